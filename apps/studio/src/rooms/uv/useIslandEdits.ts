import { ref, watch, type Ref } from 'vue';
import type { LayoutFinding, LayoutRemedy, MeshChange } from '@zographos/operations';
import { count } from '../../controls/format.ts';
import { useMeshEdits } from '../../stores/meshEdits.ts';
import { boxOfIsland, broughtBack, middleOf, mirrorAbout, withMoves, type Move } from './islandPicks.ts';
import type { LayoutOnScreen, OnLayout } from './layout/useLayoutOnScreen.ts';

/** Choosing islands of the layout on screen, and changing them; every change is an edit that can be taken back. */
export function useIslandEdits(
  { layout, layoutKey, checked }: LayoutOnScreen,
  onLayout: Ref<OnLayout>,
  tilesInUse: Ref<number[]>,
  layoutToCome: {
    /** Told a triangle of each island that stays, mesh by mesh. */
    lock: (lists: number[][]) => void;
    propose: (how: 'pack' | 'unwrap') => void;
  },
) {
  const meshEdits = useMeshEdits();
  const chosen = ref<ReadonlySet<number>>(new Set());
  const pivot = ref<readonly [number, number] | null>(null);
  const locked = ref<ReadonlySet<number>>(new Set());

  /** With other islands, what was chosen means nothing any more. */
  watch(layout, (now, before) => {
    if (now?.boxes.length === before?.boxes.length) return;
    chosen.value = new Set();
    locked.value = new Set();
    pivot.value = null;
  });

  function pick({ triangle, add }: { triangle: number | null; add: boolean }): void {
    if (!layout.value) return;
    if (triangle === null) {
      if (!add) chosen.value = new Set();
      return;
    }
    const island = layout.value.islandOf[triangle]!;
    const next = new Set(add ? chosen.value : []);
    if (!next.delete(island)) next.add(island);
    chosen.value = next;
  }

  /** Islands of all meshes as those of each, in the numbers of its own. */
  function byMesh<T>(islands: readonly number[], of: (own: number[], mesh: number) => T): T[] {
    const { meshOf, firstIslands } = layout.value!;
    const own = new Map<number, number[]>();
    for (const island of islands) {
      const at = meshOf[island]!;
      own.set(at, [...(own.get(at) ?? []), island - firstIslands[at]!]);
    }
    return [...own].map(([at, numbers]) => of(numbers, at));
  }

  /** @param label the verb of the change; “…” stands for the islands where they do not come last */
  async function move(label: string, moves: readonly Move[]): Promise<void> {
    if (!layout.value || moves.length === 0) return;
    const own = new Map<number, { islands: number[]; matrix: [...Move['matrix']] }[]>();
    for (const { islands, matrix } of moves) {
      byMesh(islands, (numbers, at) => {
        own.set(at, [...(own.get(at) ?? []), { islands: numbers, matrix: [...matrix] }]);
      });
    }
    const parts = [...own].map(([at, list]): { id: string; change: MeshChange } => ({
      id: onLayout.value.meshes[at]!.id,
      change: { what: 'move-islands', uvSet: onLayout.value.uvSets[at]!, moves: list },
    }));
    const { value: before } = layout;
    const { value: key } = layoutKey;
    layout.value = withMoves(before, moves);
    const moved = new Set(moves.flatMap(({ islands }) => islands)).size;
    const what = count(moved, 'island');
    await meshEdits.change(label.includes('…') ? label.replace('…', what) : `${label} ${what}`, parts);
    // Refused: what was there is shown again.
    if (key === layoutKey.value) layout.value = before;
  }

  function share(on: boolean, islands: readonly number[] = [...chosen.value]): void {
    const parts = byMesh(islands, (own, at): { id: string; change: MeshChange } => ({
      id: onLayout.value.meshes[at]!.id,
      change: { what: 'share-islands', uvSet: onLayout.value.uvSets[at]!, islands: own, on },
    }));
    void meshEdits.change(on ? 'mark as stacked' : 'unmark as stacked', parts);
  }

  function lock(on: boolean): void {
    const next = new Set(locked.value);
    for (const island of chosen.value) {
      if (on) next.add(island);
      else next.delete(island);
    }
    locked.value = next;
  }
  watch(locked, () => {
    const { value: laid } = layout;
    const lists = onLayout.value.meshes.map((): number[] => []);
    for (const island of laid ? locked.value : []) {
      const at = laid!.meshOf[island]!;
      lists[at]!.push(laid!.islandOf.indexOf(island) - laid!.firstTriangles[at]!);
    }
    layoutToCome.lock(lists.some((list) => list.length > 0) ? lists : []);
  });

  function mend(how: LayoutRemedy, { islands }: LayoutFinding): void {
    const { value: laid } = layout;
    if (!laid) return;
    switch (how) {
      case 'pack':
      case 'unwrap':
        layoutToCome.propose(how);
        break;
      case 'share':
        share(true, islands);
        break;
      case 'bring-back':
        void move('move … into the tile', broughtBack(laid, islands, tilesInUse.value));
        break;
      case 'mirror': {
        const about = (island: number): [number, number] => middleOf(boxOfIsland(laid, island));
        const turned = islands.map((island): Move => ({ islands: [island], matrix: mirrorAbout(about(island), true) }));
        void move('mirror', turned);
        break;
      }
      case 'even':
        void move('even density', checked.value?.evenMoves.filter((each) => islands.includes(each.islands[0]!)) ?? []);
    }
  }

  return { chosen, pivot, locked, byMesh, pick, move, share, lock, mend };
}
