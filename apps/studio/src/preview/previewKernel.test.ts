import { readFileSync } from 'node:fs';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { blur, type Image } from '@zographos/core/image';
import { kernelTeam, useKernelTeam } from '@zographos/core/kernel';
import { usePreviewKernel } from './previewKernel.ts';

afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
  useKernelTeam(null);
});

const image: Image = { width: 40, height: 30, channels: 3, data: new Float32Array(3600).map((_, i) => (i % 17) / 17) };

describe('the kernel of the preview', () => {
  it('comes from the server, and makes what plain code does, but for single precision', async () => {
    const bytes = readFileSync(new URL('../../../../build/kernel.wasm', import.meta.url));
    const headers = { 'content-type': 'application/wasm' };
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(bytes, { headers })));
    const plain = blur(image, 3, 'repeat').data;
    await usePreviewKernel();
    expect(kernelTeam()?.threads).toBe(1);
    const soft = blur(image, 3, 'repeat').data;
    for (let i = 0; i < plain.length; i++) expect(Math.abs(soft[i]! - plain[i]!)).toBeLessThan(1e-6);
  });

  it('is done without, and that is said, where it does not come', async () => {
    const warn = vi.spyOn(console, 'warn').mockImplementation(() => {});
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('gone', { status: 404 })));
    await usePreviewKernel();
    expect(kernelTeam()).toBeNull();
    expect(warn).toHaveBeenCalledOnce();
    expect(blur(image, 3, 'repeat').data).toHaveLength(3600);
  });
});
