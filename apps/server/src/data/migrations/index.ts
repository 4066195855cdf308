import { Coatings1700000000010 } from './coatings.ts';
import { FlatMaterial1700000000004 } from './flatMaterial.ts';
import { FollowingRows1700000000007 } from './followingRows.ts';
import { Foundation1700000000001 } from './foundation.ts';
import { LayeredMaps1700000000009 } from './layeredMaps.ts';
import { LitSets1700000000012 } from './litSets.ts';
import { Layouts1700000000003 } from './layouts.ts';
import { ImagePacking1700000000008 } from './imagePacking.ts';
import { MapMeanings1700000000005 } from './mapMeanings.ts';
import { References1700000000011 } from './references.ts';
import { Sessions1700000000006 } from './sessions.ts';
import { SeveralReceivers1700000000002 } from './severalReceivers.ts';

/** In the order in which they were written; each is named here, so that bundling cannot lose one. */
export const MIGRATIONS = [
  Foundation1700000000001,
  SeveralReceivers1700000000002,
  Layouts1700000000003,
  FlatMaterial1700000000004,
  MapMeanings1700000000005,
  Sessions1700000000006,
  FollowingRows1700000000007,
  ImagePacking1700000000008,
  LayeredMaps1700000000009,
  Coatings1700000000010,
  References1700000000011,
  LitSets1700000000012,
];
