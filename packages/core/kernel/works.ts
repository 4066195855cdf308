// What a team can do. The names are those of src/kernel/works.ts.
import { cellularNoiseOfPlaces } from './picture/cellularNoise';
import { curvatureOfRow } from './picture/curvature';
import { fourierOfLines } from './picture/fourier';
import { gaussianColumns, gaussianRows } from './picture/gaussian';
import { gainsOfRow, guidedRow, squaresOfRow } from './picture/guidedFilter';
import { noiseOfPlaces } from './picture/noise';
import { opennessOfRow, skyOfLines } from './picture/occlusion';
import { pointOperations } from './picture/pointOperations';
import { resampleRows } from './picture/resample';
import { rowsOfSlabs, slabsOfRows } from './picture/slabs';
import { normalsOfRow, slopesOfRow } from './picture/slopes';

/** One task of a piece of work. @param room what this thread alone works in */
export function perform(work: u32, numbers: usize, task: i32, room: usize): void {
  switch (work) {
    case 0:
      gaussianRows(numbers, task, room);
      break;
    case 1:
      gaussianColumns(numbers, task, room);
      break;
    case 2:
      resampleRows(numbers, task, room);
      break;
    case 3:
      skyOfLines(numbers, task, room);
      break;
    case 4:
      pointOperations(numbers, task, room);
      break;
    case 5:
      slopesOfRow(numbers, task);
      break;
    case 6:
      noiseOfPlaces(numbers, task, room);
      break;
    case 7:
      cellularNoiseOfPlaces(numbers, task, room);
      break;
    case 8:
      squaresOfRow(numbers, task);
      break;
    case 9:
      gainsOfRow(numbers, task);
      break;
    case 10:
      guidedRow(numbers, task);
      break;
    case 11:
      fourierOfLines(numbers, task, room);
      break;
    case 12:
      normalsOfRow(numbers, task);
      break;
    case 13:
      slabsOfRows(numbers, task, room);
      break;
    case 14:
      rowsOfSlabs(numbers, task, room);
      break;
    case 15:
      opennessOfRow(numbers, task);
      break;
    case 16:
      curvatureOfRow(numbers, task, room);
      break;
    default:
      unreachable();
  }
}
