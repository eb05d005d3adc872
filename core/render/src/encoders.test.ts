import { describe, expect, it } from 'vitest';
import { album } from '@oiseau/album/testing';
import { source, words16 } from '@oiseau/audio/testing';
import type { EncoderOrder, FileSink } from '@oiseau/codings';
import { master, MemoryFolder, planFor } from './testing.js';
import { audioFiles } from './planned.js';
import { renderPlan } from './render.js';

const three = album(
  { master: master(1), title: 'Lamp' },
  { master: master(2), title: 'Ebb' },
  { master: master(3), title: 'Neap' },
);
const masters = [1, 2, 3].map(() => source(44_100, 4, words16));

/** Lets the event loop turn as often as anybody here waits for anything. */
const turns = async (count: number): Promise<void> => {
  for (let i = 0; i < count; i++) await Promise.resolve();
};

/** Encoders that write down what becomes of them; one may die as it closes. */
class Encoders extends MemoryFolder {
  readonly log: string[] = [];
  readonly bytes16 = new Map<string, number>();
  #begun = 0;

  constructor(readonly dying?: number) {
    super();
  }

  override encode(path?: string, order?: EncoderOrder): Promise<never> {
    const number = ++this.#begun;
    this.log.push(`begin ${number}`);
    const sink: FileSink = {
      write: (bytes) => {
        this.bytes16.set(path ?? '', (this.bytes16.get(path ?? '') ?? 0) + bytes.length);
        return Promise.resolve();
      },
      close: async () => {
        await turns(2000);
        if (number === this.dying) throw new Error(`encoder ${number} died`);
        this.log.push(`end ${number} of ${order?.label ?? ''}`);
      },
      abort: () => void this.log.push(`abort ${number}`),
    };
    return Promise.resolve(sink as never);
  }
  override tag(path?: string): Promise<never> {
    this.log.push(`tag ${path ?? ''}`);
    return Promise.resolve(undefined as never);
  }
}

const opus = { kind: 'tracks', format: 'opus' };

describe('encoders', () => {
  it('get every sample of their track, and each is finished and tagged before a third one begins', async () => {
    const { plan, input } = planFor(three, masters, opus);
    const folder = new Encoders();
    await renderPlan(plan, input, folder, () => undefined);
    expect(audioFiles(plan).map(({ path }) => folder.bytes16.get(path))).toEqual(
      audioFiles(plan).map(({ length }) => length * 2 * 4),
    );
    const before = (one: string, other: string): boolean =>
      folder.log.indexOf(one) < folder.log.indexOf(other);
    expect(before('end 1 of Opus', 'begin 3')).toBe(true);
    expect(folder.log.filter((line) => line.startsWith('tag '))).toHaveLength(3);
    expect(folder.log.at(-1)).toMatch(/^tag 03/);
  });

  it('that die as they finish end the render, and none is left behind', async () => {
    const { plan, input } = planFor(three, masters, opus);
    const folder = new Encoders(1);
    await expect(renderPlan(plan, input, folder, () => undefined)).rejects.toThrow('encoder 1 died');
    const begun = folder.log.filter((line) => line.startsWith('begin')).length;
    const over = folder.log.filter((line) => line.startsWith('abort') || line.startsWith('end')).length;
    expect(over).toBe(begun);
    expect(folder.log).toContain('abort 1');
  });

  it('are let go of when somebody stops the render in the middle of a later track', async () => {
    const { plan, input } = planFor(three, masters, opus);
    const folder = new Encoders();
    const stopped = renderPlan(plan, input, folder, (seconds) => {
      if (seconds > 8) throw new Error('stopped');
    });
    await expect(stopped).rejects.toThrow('stopped');
    expect(folder.log).toContain('end 1 of Opus');
    expect(folder.log).toContain('abort 2');
  });
});
