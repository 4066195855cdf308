import { imageFormatOf } from '../images/readImageFile.ts';
import { meshFormatOf } from '../meshes/read/readMeshFile.ts';

/** Whether a file is nothing by itself, but may be named by others: libraries of materials, buffers. */
export const isCompanion = (name: string): boolean => /\.(mtl|bin)$/i.test(name);

/** Whether a file is a mesh or an image by its name, or something that one may need. */
export const isUseful = (name: string): boolean =>
  isCompanion(name) || meshFormatOf(name) !== null || imageFormatOf(name) !== null;

/** What is known, for people. */
export const KNOWN_FORMATS = 'OBJ, glTF, GLB, PLY, STL, PNG, JPEG, TIFF, EXR, HDR, TGA, WebP, SVG';
