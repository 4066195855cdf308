import { computed, onUnmounted, ref, shallowRef, watch, type Ref } from 'vue';
import { strokesOf, type Stratum } from '@zographos/core/layers';
import { PATHS, type LayersTicket } from '@zographos/contracts';
import type { StrokeRecord } from '@zographos/operations';
import { useProject } from '../../../stores/project.ts';
import type {
  FacesAsk,
  FactsAsk,
  FoundPlace,
  GrowAsk,
  HistogramOf,
  LassoAsk,
  LayersAsk,
  LayersDone,
  LayersTold,
  OffersAsk,
  PenAsk,
  SectionLine,
  TriangleAsk,
} from './layersMessages.ts';
import { UNDER_PEN } from './underPen.ts';
import { withPatches } from './withPatches.ts';

type Composed = Extract<LayersTold, { what: 'composed' }>;

/** A picture as wide as high. */
export interface OfferPicture {
  side: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

export interface LayersPreviewRequest {
  ticket: Ref<LayersTicket | undefined>;
  /** The settings as they are being moved. */
  settings: Ref<LayersTicket['settings'] | undefined>;
  side: Ref<number>;
  /** The layer whose mask is shown. */
  maskOf: Ref<string | null>;
  section: Ref<SectionLine | null>;
  histogramOf: Ref<HistogramOf | null>;
  /** The stroke under the pen. */
  pen: Ref<StrokeRecord | null>;
  /** Told what was clicked on in the map. */
  onTriangle: (found: FoundPlace) => void;
  /** Told the faces that were asked for. */
  onFaces: (faces: PickedFaces) => void;
}

/** Layers that may be added, with what they are made of and the stack does not have yet. */
export interface Offered extends Pick<OffersAsk, 'offers' | 'images'> {
  materials: LayersAsk['settings']['materials'];
  pictures: LayersAsk['pictures'];
}

export type PickedFaces = Pick<Extract<LayersTold, { what: 'faces' }>, 'ranges' | 'of'>;

/** Shows what a stack would make while its settings move; what was asked for before is given up. */
export function useLayersPreview({
  ticket,
  settings,
  side,
  maskOf,
  section,
  histogramOf,
  pen,
  onTriangle,
  onFaces,
}: LayersPreviewRequest) {
  const store = useProject();
  const worker = new Worker(new URL('./layersWorker.ts', import.meta.url), { type: 'module' });
  onUnmounted(() => worker.terminate());

  const tiles = shallowRef<Composed['tiles']>([]);
  const problems = shallowRef<Composed['problems']>([]);
  const overlaps = ref(0);
  const strata = shallowRef(new Map<string, Stratum>());
  /** Pictures of layers that may be added, by their names. */
  const offers = shallowRef(new Map<string, OfferPicture>());
  const histogram = shallowRef<number[] | null>(null);
  watch(histogramOf, () => (histogram.value = null));
  const milliseconds = ref<number | null>(null);
  const busy = ref(false);
  const problem = ref<string | null>(null);
  let turn = 0;
  /** The stroke under the pen as it is shown, or will be once the worker answers. */
  let penShown: StrokeRecord | null = null;
  let isPenSent = false;

  /** Has what the stroke has grown by composed; one answer is waited for before the next is asked. */
  function sendPen(stroke: StrokeRecord): void {
    isPenSent = true;
    penShown = stroke;
    worker.postMessage({ what: 'pen', turn, pen: structuredClone(stroke) } satisfies PenAsk);
  }
  const waiting: (() => void)[] = [];

  worker.onmessage = ({ data }: MessageEvent<LayersTold>): void => {
    if (data.what === 'done') {
      waiting.shift()?.();
      return;
    }
    if (data.what === 'triangle') {
      onTriangle(data);
      return;
    }
    if (data.what === 'offer') {
      offers.value = new Map([...offers.value, [data.name, { side: data.side, rgba: data.rgba }]]);
      return;
    }
    if (data.what === 'faces') {
      onFaces(data);
      return;
    }
    if (data.turn !== turn) return;
    if (data.what === 'patched') {
      isPenSent = false;
      if (data.tiles) {
        tiles.value = withPatches(tiles.value, data.tiles);
        milliseconds.value = data.milliseconds;
        if (pen.value && pen.value !== penShown) sendPen(pen.value);
      } else ask();
      return;
    }
    if (data.what === 'histogram') {
      histogram.value = data.bins;
      return;
    }
    if (data.what === 'section') {
      strata.value = new Map(data.strata.map((stratum) => [stratum.id, stratum]));
      return;
    }
    busy.value = false;
    problem.value = data.what === 'failed' ? data.message : null;
    if (data.what === 'failed') return;
    tiles.value = data.tiles;
    problems.value = data.problems;
    overlaps.value = data.overlaps;
    milliseconds.value = data.milliseconds;
    if (pen.value && pen.value !== penShown) sendPen(pen.value);
  };
  worker.onerror = ({ message }): void => {
    busy.value = false;
    problem.value = `The preview stopped: ${message}. Change a setting to try again; the stack can be run all the same.`;
  };

  /** Images of the ticket, named by their content; empty where there is none yet. */
  const pictures = computed((): [string, string][] =>
    (ticket.value?.inputs.pictures ?? []).map((id) => [id, store.pictureContent(id)]),
  );
  const hashes = computed(() => store.meshesByIds(ticket.value?.inputs.receivers).map((mesh) => mesh.contentHash));

  /** What the worker is asked for now; null where there is no stack. */
  function requestNow(): LayersAsk | null {
    const own = settings.value;
    if (!ticket.value || !own) return null;
    const { layers, materials, mixing, unit, size, tiles: wanted, uvSet, tileWidth } = own;
    // What has not been made yet cannot be gone by.
    const measured = own.measured.filter(({ picture }) => (pictures.value[picture]?.[1] ?? '') !== '');
    const made = materials.map((material) => ({
      ...material,
      maps: Object.fromEntries(
        Object.entries(material.maps).filter(([, at]) => (pictures.value[at]?.[1] ?? '') !== ''),
      ),
    }));
    const request: LayersAsk = {
      what: 'show',
      turn,
      surface: {
        ...{ urls: hashes.value.map(PATHS.blob), uvSet, unit },
        flat: [tileWidth, (tileWidth * size.height) / size.width],
      },
      settings: { layers, materials: made, measured, mixing, unit, size, tiles: wanted },
      pictures: pictures.value,
      ...{
        side: side.value,
        maskOf: maskOf.value,
        section: section.value,
        histogramOf: histogramOf.value,
        pen: pen.value,
      },
    };
    // Proxies of what is watched cannot be sent.
    return structuredClone({
      ...request,
      settings: JSON.parse(JSON.stringify(request.settings)) as LayersAsk['settings'],
    });
  }

  function ask(): void {
    const request = requestNow();
    if (!request) return;
    busy.value = true;
    isPenSent = false;
    penShown = pen.value;
    worker.postMessage({ ...request, turn: ++turn } satisfies LayersAsk);
  }

  /** Has pictures made of how the model would look with each of some layers; told by `offers` as they come. */
  function showOffers({ offers: layers, materials, pictures: more, images }: Offered): void {
    const on = requestNow();
    offers.value = new Map();
    if (!on) return;
    on.settings.materials.push(...materials);
    on.pictures.push(...more);
    worker.postMessage({ what: 'offers', on, offers: layers, images } satisfies OffersAsk);
  }

  watch([settings, pictures, hashes, side, maskOf, section, histogramOf], ask, { immediate: true });
  watch(pen, (stroke) => {
    if (penShown === stroke) return;
    // What was painted is shown by its own name already.
    if (!stroke && !strokesOf(settings.value?.layers ?? []).includes(UNDER_PEN)) return;
    // A stroke that goes on is composed where it grows; another is asked for with its layers.
    if (stroke && penShown?.seed === stroke.seed) {
      if (!busy.value && !isPenSent) sendPen(stroke);
    } else ask();
  });

  /** Asks which triangle lies at a place of a tile; told by `onTriangle`, if there is one. */
  const findTriangle = (place: Omit<TriangleAsk, 'what'>): void =>
    worker.postMessage({ what: 'triangle', ...place } satisfies TriangleAsk);

  /** Done once all places that were asked for before are told. */
  function findTriangleDone(done: () => void): void {
    waiting.push(done);
    worker.postMessage({ what: 'done' } satisfies LayersDone);
  }

  /** Asks what is known of a place of the model; told by `onTriangle`. */
  const findFacts = (found: FactsAsk['found']): void => worker.postMessage({ what: 'facts', found } satisfies FactsAsk);
  /** Asks for the faces that hang together with one; told by `onFaces`. */
  const findFaces = (triangle: number, angle: number): void =>
    worker.postMessage({ what: 'faces', triangle, angle } satisfies FacesAsk);
  /** Asks for the faces within a lasso; told by `onFaces`. */
  const lassoFaces = (lasso: Omit<LassoAsk, 'what'>): void =>
    worker.postMessage({ what: 'lasso', ...lasso } satisfies LassoAsk);
  const growFaces = (ranges: GrowAsk['ranges']): void =>
    worker.postMessage({
      what: 'grow',
      ranges: JSON.parse(JSON.stringify(ranges)) as GrowAsk['ranges'],
    } satisfies GrowAsk);

  return {
    findFacts,
    findFaces,
    lassoFaces,
    growFaces,
    histogram,
    showOffers,
    offers,
    findTriangle,
    findTriangleDone,
    tiles,
    problems,
    overlaps,
    strata,
    milliseconds,
    busy,
    problem,
  };
}
