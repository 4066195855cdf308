import path from 'node:path';
import { mkdir } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { ZographosError } from '@zographos/core/errors';
import { FIRST_TILE, guideDrawing, layoutOf } from '@zographos/core/uv';
import { drawSvg } from '@zographos/formats/images';
import { parseSize, required } from '../flags.ts';
import { loadMeshes } from '../files/meshFiles.ts';
import { writeWhole } from '../files/writeWhole.ts';

export const UV_GUIDE_HELP = `cli uv-guide: draw a layout to paint over

  --in FILE            mesh file; each object has a colour of its own
  --out FILE           .png, .tif or .svg
  --size N | WxH       size in texels                                      (1024)
  --uv-set N           UV set, counted from 1                              (1)
  --tile N             UDIM tile                                           (1001)
  --outline            borders alone, islands are not filled
  --no-inner-edges     no edges within islands
  --legend             the names of the objects beside their colours
  --help               this text
`;

export async function uvGuideCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string' },
      out: { type: 'string' },
      size: { type: 'string', default: '1024' },
      'uv-set': { type: 'string', default: '1' },
      tile: { type: 'string', default: String(FIRST_TILE) },
      outline: { type: 'boolean', default: false },
      'no-inner-edges': { type: 'boolean', default: false },
      legend: { type: 'boolean', default: false },
    },
  });
  const out = required(values.out, 'out');
  const ending = path.extname(out).toLowerCase();
  const meshes = await loadMeshes(required(values.in, 'in'));
  const svg = guideDrawing(
    meshes.map(({ mesh }) => ({ name: mesh.name, layout: layoutOf(mesh, Number(values['uv-set']) - 1) })),
    {
      size: parseSize(values.size),
      tile: Number(values.tile),
      fill: !values.outline,
      innerEdges: !values['no-inner-edges'],
      legend: values.legend,
    },
  );
  await mkdir(path.dirname(out), { recursive: true });
  if (ending === '.svg') await writeWhole(out, svg);
  else if (ending === '.png') await writeWhole(out, await drawSvg(svg, 'png'));
  else if (ending === '.tif' || ending === '.tiff') await writeWhole(out, await drawSvg(svg, 'tif'));
  else {
    throw new ZographosError(
      'input/wrong-file-type',
      `“${out}” names no format that guides are drawn in. End it in .png, .tif or .svg.`,
    );
  }
}
