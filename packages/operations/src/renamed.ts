import { z } from 'zod';

/**
 * A list of ids, some of which were spelled otherwise once: what was saved then is read as what it is called now.
 * @example renamed(['high-pass'], { 'high pass': 'high-pass' }).parse('high pass') // 'high-pass'
 */
export const renamed = <const Ids extends readonly [string, ...string[]]>(
  ids: Ids,
  former: Readonly<Record<string, Ids[number]>>,
) => z.preprocess((id) => (typeof id === 'string' ? (former[id] ?? id) : id), z.enum(ids));
