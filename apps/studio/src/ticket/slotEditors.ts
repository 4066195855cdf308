import type { Component } from 'vue';
import type { TicketKind } from '@zographos/operations';
import CageSlot from './bake/CageSlot.vue';
import BackFacesSlot from './bake/BackFacesSlot.vue';
import CurvatureSlot from './bake/CurvatureSlot.vue';
import DirectionSlot from './bake/DirectionSlot.vue';
import GradientSlot from './bake/GradientSlot.vue';
import HeightSlot from './bake/HeightSlot.vue';
import IdSlot from './bake/IdSlot.vue';
import MapsSlot from './bake/MapsSlot.vue';
import MatchSlot from './bake/MatchSlot.vue';
import MeshesSlot from './bake/MeshesSlot.vue';
import NormalSlot from './bake/NormalSlot.vue';
import OcclusionSlot from './bake/OcclusionSlot.vue';
import PaddingSlot from './bake/PaddingSlot.vue';
import PicturesSlot from './bake/PicturesSlot.vue';
import ReachSlot from './bake/ReachSlot.vue';
import RepeatSlot from './bake/RepeatSlot.vue';
import SamplesSlot from './bake/SamplesSlot.vue';
import ScaleSlot from './bake/ScaleSlot.vue';
import SizeSlot from './bake/SizeSlot.vue';
import TilesSlot from './bake/TilesSlot.vue';
import UvSetSlot from './bake/UvSetSlot.vue';

/**
 * The editor of each slot that a ticket's sentences name, by operation. An editor is given the ticket and the slot. Flat
 * material is edited beside its preview, in the Flat room.
 */
export const SLOT_EDITORS: Partial<Record<TicketKind, Record<string, Component>>> = {
  bake: {
    maps: MapsSlot,
    normal: NormalSlot,
    receivers: MeshesSlot,
    sources: MeshesSlot,
    match: MatchSlot,
    scale: ScaleSlot,
    repeat: RepeatSlot,
    pictures: PicturesSlot,
    size: SizeSlot,
    tiles: TilesSlot,
    reach: ReachSlot,
    cage: CageSlot,
    samples: SamplesSlot,
    occlusion: OcclusionSlot,
    padding: PaddingSlot,
    uvSet: UvSetSlot,
    direction: DirectionSlot,
    backFaces: BackFacesSlot,
    height: HeightSlot,
    gradient: GradientSlot,
    curvature: CurvatureSlot,
    id: IdSlot,
  },
};

/** The editor of a slot. @throws an Error for a slot that nothing edits: a fault in the sentence or in the table */
export function slotEditorOf(operation: TicketKind, slot: string): Component {
  const editor = SLOT_EDITORS[operation]?.[slot];
  if (!editor) throw new Error(`Nothing edits the slot “${slot}” of the operation “${operation}”.`);
  return editor;
}
