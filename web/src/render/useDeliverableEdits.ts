import type { Deliverable } from '@oiseau/album/model';
import { useAlbum } from '../album/AlbumContext.js';
import { freeName } from './presets.js';
import { t } from '../ui/messages.js';

/**
 * What is done to the album's deliverables.
 * @param onOpen shows the one with this name
 */
export function useDeliverableEdits(onOpen: (name: string) => void) {
  const { editing, edit } = useAlbum('editing', 'edit');
  const change = (name: string, deliverable: Deliverable): void => {
    edit(t('settings of “{name}”', { name }), (before) => ({
      ...before,
      deliverables: before.deliverables.map((old) => (old.name === name ? deliverable : old)),
      unselected: before.unselected.map((old) => (old === name ? deliverable.name : old)),
    }));
    onOpen(deliverable.name);
  };
  const add = (deliverable: Deliverable): void => {
    const named = { ...deliverable, name: freeName(deliverable.name, editing.album.deliverables) };
    edit(t('deliverable “{name}” added', { name: named.name }), (before) => ({
      ...before,
      deliverables: [...before.deliverables, named],
    }));
    onOpen(named.name);
  };
  const remove = (name: string): void => {
    edit(t('deliverable “{name}” removed', { name }), (before) => ({
      ...before,
      deliverables: before.deliverables.filter((old) => old.name !== name),
      unselected: before.unselected.filter((old) => old !== name),
    }));
  };
  return { change, add, remove };
}
