import { z } from 'zod';
import { MATERIAL_CHANNELS, type MaterialChannel } from '@zographos/core/mesh';
import { mapSize } from '../bake/settings.ts';
import { DEFAULT_LAYOUT, layoutSettings } from '../layout/settings.ts';

export type MergedKind = MaterialChannel | 'normal';
export const MERGED_KINDS = [...MATERIAL_CHANNELS, 'normal'] as const satisfies readonly MergedKind[];

/** The kinds of maps that a material of glTF can carry: those that are merged, and ambient occlusion. */
export const CARRIED_KINDS = [...MERGED_KINDS, 'ao'] as const;
export type CarriedKind = (typeof CARRIED_KINDS)[number];

/** Everything an artist can say about a merge of materials. */
export const mergeSettings = z.strictObject({
  /** Of the merged mesh, its material and its ticket. */
  name: z.string().trim().min(1, 'A merged mesh needs a name.').max(100),
  maps: z.array(z.enum(MERGED_KINDS)).min(1, 'Choose at least one map to merge into.'),
  /** How the objects come onto one layout; null to keep the one they share. */
  layout: layoutSettings.nullable(),
  /** The layout that is kept. */
  uvSet: z.int().min(0).max(63).default(0),
  size: mapSize,
  padding: z.union([z.int().min(0).max(16384), z.literal('all')]),
  samples: z.int().min(1).max(8),
  /** Whether objects stay apart, with one material for all; else they become one. */
  keepObjects: z.boolean(),
  /** Whether UV sets beside the shared layout stay on the merged mesh; left out, they go. */
  keepUvSets: z.boolean().optional(),
});

export type MergeSettings = z.infer<typeof mergeSettings>;

export const DEFAULT_MERGE: MergeSettings = mergeSettings.parse({
  name: 'Merged',
  maps: ['basecolor', 'roughness', 'metallic', 'normal'],
  layout: DEFAULT_LAYOUT,
  size: { width: 1024, height: 1024 },
  padding: 8,
  samples: 2,
  keepObjects: false,
});
