// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { ENDPOINTS } from '@zographos/contracts';
import { call, CallError, sendFiles } from './call.ts';

afterEach(() => vi.unstubAllGlobals());

const answering = (answer: () => Promise<Response>) => {
  const asked: [string, RequestInit | undefined][] = [];
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
    asked.push([path, init]);
    return answer();
  });
  return asked;
};

describe('a call', () => {
  it('goes to the path of its endpoint, with its body as JSON', async () => {
    const asked = answering(() => Promise.resolve(Response.json({ id: 'a' })));
    await call(ENDPOINTS.changeProject, { id: 'a b' }, { version: 1, name: 'Quay' });
    expect(asked[0]).toEqual([
      '/api/projects/a%20b',
      { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: '{"version":1,"name":"Quay"}' },
    ]);
    await call(ENDPOINTS.listProjects, {});
    expect(asked[1]).toEqual(['/api/projects', { method: 'GET' }]);
  });

  it('that is answered with nothing is done', async () => {
    answering(() => Promise.resolve(new Response(null, { status: 204 })));
    await expect(call(ENDPOINTS.deleteProject, { id: 'a' })).resolves.toBeUndefined();
  });

  it('that is refused says so in the server’s own words', async () => {
    const refusal = { code: 'conflict/in-use', message: 'It is used. Choose another first.' };
    answering(() => Promise.resolve(Response.json(refusal, { status: 409 })));
    await expect(call(ENDPOINTS.deleteAsset, { id: 'a' })).rejects.toMatchObject(refusal);
  });

  it('that is answered with no reason, or not at all, says what to do', async () => {
    answering(() => Promise.resolve(new Response('<html>', { status: 502 })));
    await expect(call(ENDPOINTS.listProjects, {})).rejects.toMatchObject({
      code: 'service/internal',
      message: expect.stringContaining('502') as string,
    });
    answering(() => Promise.reject(new TypeError('network')));
    const away = await call(ENDPOINTS.listProjects, {}).catch((error: unknown) => error);
    expect(away).toBeInstanceOf(CallError);
    expect((away as CallError).message).toMatch(/Nothing is lost/);
  });
});

describe('files on their way', () => {
  class Request {
    static last: Request;
    upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
    onload?: () => void;
    onerror?: () => void;
    onabort?: () => void;
    status = 0;
    responseText = '';
    sent: FormData | null = null;
    address = '';
    constructor() {
      Request.last = this;
    }
    open(_: string, address: string): void {
      this.address = address;
    }
    send(form: FormData): void {
      this.sent = form;
    }
    abort(): void {
      this.onabort?.();
    }
    answer(status: number, text: string): void {
      Object.assign(this, { status, responseText: text });
      this.onload!();
    }
  }
  const sending = (onProgress = (): void => {}) => {
    vi.stubGlobal('XMLHttpRequest', Request);
    const files = [new File(['o a'], 'a.obj'), new File(['b'], 'b.png')].map((file) => ({ file, path: file.name }));
    return sendFiles('p', files, onProgress);
  };

  it('go together under their names, and tell how far they are', async () => {
    const shares: number[] = [];
    vi.stubGlobal('XMLHttpRequest', Request);
    const { done } = sendFiles('p', [{ file: new File(['o a'], 'a.obj'), path: 'kit/a.obj' }], (share) =>
      shares.push(share),
    );
    Request.last.upload.onprogress!({ loaded: 1, total: 4 });
    Request.last.upload.onprogress!({ loaded: 0, total: 0 });
    Request.last.answer(200, '{"assets":[],"failures":[]}');
    expect(await done).toEqual({ assets: [], failures: [] });
    expect(shares).toEqual([0.25, 0]);
    expect(Request.last.address).toMatch(/^\/api\/projects\/p\/files\?existing=ask&upload=[0-9a-f-]{36}$/);
    expect(Request.last.sent!.getAll('files').map((file) => (file as File).name)).toEqual(['kit/a.obj']);
  });

  it('that are refused, lost or cancelled say which', async () => {
    const refused = sending();
    Request.last.answer(413, JSON.stringify({ code: 'limit/bytes', message: 'Too large.' }));
    await expect(refused.done).rejects.toMatchObject({ code: 'limit/bytes' });
    const lost = sending();
    Request.last.onerror!();
    await expect(lost.done).rejects.toMatchObject({ code: 'service/away' });
    const cancelled = sending();
    cancelled.cancel();
    await expect(cancelled.done).rejects.toMatchObject({
      code: 'run/cancelled',
      message: expect.stringContaining('files that were read before stay') as string,
    });
  });
});
