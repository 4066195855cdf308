import { TexelState } from '../../image/image.ts';
import type { LayerChannel } from '../channels.ts';
import { bareBlock, layersToLay, mixBlocks, type ComposedBlock } from './composeBlock.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { cover, gather, scatter, type LayerPlanes } from './layerPlanes.ts';
import { layerMask, maskSteps } from '../mask/layerMask.ts';
import type { Stroke } from '../painting/stroke.ts';
import { StrokeCoverage } from '../painting/strokeCoverage.ts';
import { boxOfBlock } from '../painting/texelRows.ts';
import { reliefToNormals } from '../surface/reliefNormals.ts';
import { requireProcess } from '../process/prepareProcesses.ts';
import { dropsOnTile } from '../process/runs/runs.ts';
import { channelsOf, everyLayer, type Layer, type RunsMeasure, type Stack } from '../stack.ts';
import { TEXELS, TexelBlock, type BlockPlaces, type PickTexels } from '../surface/texelBlock.ts';

/** What is done to every block of a tile, each for itself; no block depends on another. */
export type BlockWork =
  /** @property from what they are laid on, where that is kept apart */
  | { do: 'lay'; layers: readonly Layer[]; planes: LayerPlanes; from?: LayerPlanes }
  /** Writes the steps of a layer's mask into a plane. */
  | { do: 'mask'; layer: Layer; plane: Float32Array; states: Uint8Array }
  | { do: 'mix'; layer: Layer; before: LayerPlanes; planes: LayerPlanes }
  /** Turns heights that layers have added into slopes, and lays these over the normals. */
  | { do: 'relief'; planes: LayerPlanes }
  /** Writes how strongly a stroke covers each texel. */
  | { do: 'stroke'; stroke: Stroke; plane: Float32Array }
  /**
   * Lets drops run; each block takes an equal part of them, wherever they go.
   * @property states told which texels of the block are covered
   */
  | { do: 'runs'; measure: RunsMeasure; plane: Int32Array; states?: Uint8Array }
  /** Writes a layer's whole mask into a plane, for whoever looks at it alone. */
  | { do: 'show-mask'; layer: Layer; plane: Float32Array; states: Uint8Array };

/**
 * Makes one kind of work ready, to be done block by block; all that it allocates is reused from block to block.
 * @param known remembers where the texels of blocks lie; not for large maps, for it takes about 80 bytes a texel
 * @param pick which texels of a block it is done to; all if left out
 * @throws missing/not-found, input/other-topology, input/bad-settings
 * @returns does it to a block
 */
export function blockComposer(
  work: BlockWork,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
  known?: Map<number, BlockPlaces>,
  pick?: PickTexels,
): (block: number) => void {
  if (work.do === 'runs') return dropsOfBlock(work, tile, inputs);
  const block = new TexelBlock(tile);
  const does = ready(work, tile, inputs, mixing);
  return (number) => {
    if (block.load(number, known) === 0) return;
    if (pick) block.keepSome(pick);
    if (block.count > 0) does(block);
  };
}

function dropsOfBlock(
  { measure, plane, states }: Extract<BlockWork, { do: 'runs' }>,
  tile: LayeredTile,
  { processes }: LayerInputs,
): (block: number) => void {
  const { starts } = requireProcess('runs', measure, processes);
  const drops = starts.triangles.length;
  const blocks = tile.plan.columns * tile.plan.rows;
  const run = dropsOnTile(measure, starts, tile, plane);
  const texels = states && new TexelBlock(tile);
  return (block) => {
    if (texels) {
      const count = texels.loadTexels(block);
      for (let i = 0; i < count; i++) states[texels.at[i]!] = TexelState.covered;
    }
    // Blocks that follow each other take drops that lie apart, so that threads do not write to the same texels.
    const part = apart(block, blocks);
    const [from, to] = [part, part + 1].map((edge) => Math.floor((edge * drops) / blocks)) as [number, number];
    if (to > from) run(from, to);
  };
}

/** Parts that threads may work on at a time. */
const STREAMS = 8;

/** Another order of some numbers: one of each of several streams after the other. */
function apart(number: number, count: number): number {
  const long = Math.floor(count / STREAMS);
  return number < long * STREAMS ? (number % STREAMS) * long + Math.floor(number / STREAMS) : number;
}

function ready(
  work: Exclude<BlockWork, { do: 'runs' }>,
  tile: LayeredTile,
  inputs: LayerInputs,
  mixing: Stack['mixing'],
): (block: TexelBlock) => void {
  switch (work.do) {
    case 'lay': {
      // What no layer writes stays as it is, where they are laid on what is there.
      const written = work.from ? null : new Set([...everyLayer(work.layers)].flatMap(channelsOf));
      const all = Object.keys(work.planes.channels) as LayerChannel[];
      const channels = all.filter((name) => written?.has(name) ?? true);
      const lays = layersToLay(work.layers, channels, tile, inputs, mixing);
      const state = bareBlock(channels);
      return (block) => {
        let isGathered = false;
        const stateOf = (): ComposedBlock => {
          if (!isGathered) gather(work.from ?? work.planes, block, state);
          isGathered = true;
          return state;
        };
        let lies = false;
        for (const layOn of lays) lies = layOn(block, stateOf) || lies;
        // What nothing lies on stays as it is.
        if (lies || work.from) scatter(work.planes, block, stateOf());
        else cover(work.planes, block);
      };
    }
    case 'mask':
      return intoPlane(maskSteps(work.layer.mask, tile, inputs), work);
    case 'show-mask':
      return intoPlane(layerMask(work.layer, tile, inputs), work);
    case 'mix': {
      const channels = Object.keys(work.planes.channels) as LayerChannel[];
      const mask = layerMask(work.layer, tile, inputs);
      const [before, after] = [bareBlock(channels), bareBlock(channels)];
      const strength = new Float32Array(TEXELS).fill(1);
      return (block) => {
        mask?.(block, strength);
        if (!mask) strength.fill(1);
        for (let i = 0; i < block.count; i++) strength[i]! *= work.layer.opacity;
        gather(work.before, block, before);
        gather(work.planes, block, after);
        mixBlocks(before, after, strength, block.count);
        scatter(work.planes, block, after);
      };
    }
    case 'stroke': {
      const coverage = new StrokeCoverage(work.stroke, tile, inputs);
      const box = new Float64Array(6);
      const share = new Float32Array(TEXELS);
      return (block) => {
        boxOfBlock(block, box);
        if (!coverage.cover(block, box, share)) return;
        for (let i = 0; i < block.count; i++) work.plane[block.at[i]!] = share[i]!;
      };
    }
    case 'relief':
      return reliefToNormals(work.planes, tile);
  }
}

function intoPlane(
  mask: ((block: TexelBlock, out: Float32Array) => void) | null,
  { plane, states }: { plane: Float32Array; states: Uint8Array },
): (block: TexelBlock) => void {
  const values = new Float32Array(TEXELS).fill(1);
  return (block) => {
    mask?.(block, values);
    for (let i = 0; i < block.count; i++) {
      plane[block.at[i]!] = values[i]!;
      states[block.at[i]!] = TexelState.covered;
    }
  };
}
