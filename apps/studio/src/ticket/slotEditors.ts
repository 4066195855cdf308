import type { Component } from 'vue';
import type { TicketKind } from '@zographos/operations';
import CageSlot from './bake/rays/CageSlot.vue';
import BackFacesSlot from './bake/rays/BackFacesSlot.vue';
import CurvatureSlot from './bake/maps/CurvatureSlot.vue';
import DirectionSlot from './bake/rays/DirectionSlot.vue';
import GradientSlot from './bake/maps/GradientSlot.vue';
import SkySlot from './bake/maps/SkySlot.vue';
import SunSlot from './bake/maps/SunSlot.vue';
import HeightSlot from './bake/maps/HeightSlot.vue';
import IdSlot from './bake/maps/IdSlot.vue';
import DenoiseSlot from './light/DenoiseSlot.vue';
import EnvironmentSlot from './light/EnvironmentSlot.vue';
import LightsSlot from './light/LightsSlot.vue';
import MaterialsSlot from './light/MaterialsSlot.vue';
import PassesSlot from './light/PassesSlot.vue';
import QualitySlot from './light/QualitySlot.vue';
import SeenFromSlot from './light/SeenFromSlot.vue';
import TileNumbersSlot from './light/TileNumbersSlot.vue';
import WindowSlot from './light/WindowSlot.vue';
import MapsSlot from './bake/maps/MapsSlot.vue';
import MatchSlot from './bake/inputs/MatchSlot.vue';
import MeshesSlot from './bake/inputs/MeshesSlot.vue';
import NormalSlot from './bake/maps/NormalSlot.vue';
import OcclusionSlot from './bake/rays/OcclusionSlot.vue';
import PaddingSlot from './bake/texels/PaddingSlot.vue';
import PicturesSlot from './bake/inputs/PicturesSlot.vue';
import ReachSlot from './bake/rays/ReachSlot.vue';
import RepeatSlot from './bake/inputs/RepeatSlot.vue';
import SamplesSlot from './bake/texels/SamplesSlot.vue';
import ScaleSlot from './bake/inputs/ScaleSlot.vue';
import SizeSlot from './bake/texels/SizeSlot.vue';
import TilesSlot from './bake/texels/TilesSlot.vue';
import UvSetSlot from './bake/inputs/UvSetSlot.vue';

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
    sky: SkySlot,
    sun: SunSlot,
    curvature: CurvatureSlot,
    id: IdSlot,
  },
  light: {
    receivers: MeshesSlot,
    sources: MeshesSlot,
    environment: EnvironmentSlot,
    lights: LightsSlot,
    passes: PassesSlot,
    size: SizeSlot,
    samples: QualitySlot,
    seenFrom: SeenFromSlot,
    materials: MaterialsSlot,
    denoise: DenoiseSlot,
    uvSet: UvSetSlot,
    tiles: TileNumbersSlot,
    uvWindow: WindowSlot,
    padding: PaddingSlot,
  },
};

/** The editor of a slot. @throws an Error for a slot that nothing edits: a fault in the sentence or in the table */
export function slotEditorOf(operation: TicketKind, slot: string): Component {
  const editor = SLOT_EDITORS[operation]?.[slot];
  if (!editor) throw new Error(`Nothing edits the slot “${slot}” of the operation “${operation}”.`);
  return editor;
}
