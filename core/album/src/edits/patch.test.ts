import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { album } from '../testing.js';
import { moveTrack, removeSongs, editWords } from './edit.js';
import { albumPatchSchema, patchBetween, patched, PatchMisfit } from './patch.js';

const five = album({}, {}, {}, {}, {});

describe('a change of a document as JSON Patch', () => {
  it('names the field and nothing else', () => {
    expect(patchBetween(five, editWords(five, 't2', { title: 'Ebb' }))).toEqual([
      { op: 'replace', path: '/songs/1/title', value: 'Ebb' },
    ]);
    expect(patchBetween(five, { ...five })).toEqual([]);
  });

  it('does what RFC 6902 says of the examples in its appendix', () => {
    // A.1, A.3, A.5, A.6, A.7 and A.14 of the standard.
    const examples: [object, object[], object][] = [
      [{ foo: 'bar' }, [{ op: 'add', path: '/baz', value: 'qux' }], { baz: 'qux', foo: 'bar' }],
      [{ baz: 'qux', foo: 'bar' }, [{ op: 'remove', path: '/baz' }], { foo: 'bar' }],
      [{ baz: 'qux' }, [{ op: 'replace', path: '/baz', value: 'boo' }], { baz: 'boo' }],
      [
        { foo: { bar: 'baz', waldo: 'fred' }, qux: { corge: 'grault' } },
        [{ op: 'move', from: '/foo/waldo', path: '/qux/thud' }],
        { foo: { bar: 'baz' }, qux: { corge: 'grault', thud: 'fred' } },
      ],
      [
        { foo: ['all', 'grass', 'cows', 'eat'] },
        [{ op: 'move', from: '/foo/1', path: '/foo/3' }],
        { foo: ['all', 'cows', 'eat', 'grass'] },
      ],
      [{ '/': 9, '~1': 10 }, [{ op: 'test', path: '/~01', value: 10 }], { '/': 9, '~1': 10 }],
    ];
    for (const [before, patch, after] of examples)
      expect(patched(before, albumPatchSchema.parse(patch))).toEqual(after);
  });

  it('leads from any state to any other, and leaves the first alone', () => {
    const state = fc
      .tuple(
        fc.subarray(['t1', 't2', 't3', 't4', 't5']),
        fc.integer({ min: 1, max: 5 }),
        fc.nat(4),
        fc.string(),
      )
      .map(([out, n, to, title]) =>
        removeSongs(moveTrack(editWords(five, `t${n}`, { title }), `t${n}`, to), new Set(out.slice(0, 3))),
      );
    fc.assert(
      fc.property(state, state, (before, after) => {
        const text = JSON.stringify(before);
        const patch = albumPatchSchema.parse(JSON.parse(JSON.stringify(patchBetween(before, after))));
        expect(JSON.stringify(patched(before, patch))).toBe(JSON.stringify(after));
        expect(JSON.stringify(before)).toBe(text);
      }),
    );
  });

  it('keeps the order of keys, in which recordings are shown', () => {
    const [before, after] = [
      { alternates: { b: 1 } },
      { alternates: { a: 2, b: 1 }, 'x/y~z': { q: 1, p: 1 } },
    ];
    expect(JSON.stringify(patched(before, patchBetween(before, after)))).toBe(JSON.stringify(after));
    const turned = { ...after, 'x/y~z': { p: 1, n: 1, q: 1 } };
    expect(JSON.stringify(patched(after, patchBetween(after, turned)))).toBe(JSON.stringify(turned));
  });

  it('that does not fit is refused', () => {
    for (const patch of [
      [{ op: 'remove', path: '/nothing/here' }],
      [{ op: 'replace', path: '/songs/9/title', value: '' }],
      [{ op: 'test', path: '/title', value: 'another' }],
    ])
      expect(() => patched(five, albumPatchSchema.parse(patch))).toThrow(PatchMisfit);
  });

  it('reaches nothing but the fields of the document', () => {
    for (const patch of [
      [{ op: 'add', path: '/__proto__/polluted', value: 1 }],
      [{ op: 'add', path: '/constructor/prototype/polluted', value: 1 }],
      [{ op: 'move', from: '/songs/__proto__', path: '/title' }],
      [{ op: 'copy', from: '/songs', path: '/label' }],
      [{ op: 'add', path: 'title', value: 1 }],
      [{ op: 'add', path: '/a~2b', value: 1 }],
    ])
      expect(albumPatchSchema.safeParse(patch).success).toBe(false);
    expect(({} as { polluted?: number }).polluted).toBeUndefined();
  });
});
