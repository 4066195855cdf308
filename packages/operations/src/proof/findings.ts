import type { Finding } from '../report.ts';
import type { BakeOperationSettings } from '../bake/settings.ts';

type More = Partial<Pick<Finding, 'places'>> & {
  remedy?: { label: string; change?: Partial<BakeOperationSettings>; exchange?: boolean; room?: 'uv' };
};

const finding =
  (severity: Finding['severity']) =>
  (kind: string, sentence: string, { places = [], remedy }: More = {}): Finding => ({
    kind,
    severity,
    sentence,
    places,
    remedy: remedy ? { change: {}, exchange: false, room: null, ...remedy } : null,
  });

/** Something the artist should know. */
export const note = finding('note');
/** Something that is probably wrong. */
export const warning = finding('warning');
