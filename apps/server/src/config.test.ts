import { describe, expect, it } from 'vitest';
import { readConfig } from './config.ts';

const usual = { DATABASE_URL: 'postgres://x' };

describe('the configuration', () => {
  it('is complete with nothing but a database', () => {
    expect(readConfig(usual)).toMatchObject({ host: '127.0.0.1', port: 0, passphrase: null, leaseSeconds: 10 });
  });

  it('takes numbers that are set, and treats an empty one as not set', () => {
    expect(readConfig({ ...usual, ZOGRAPHOS_PORT: '4280' }).port).toBe(4280);
    expect(readConfig({ ...usual, ZOGRAPHOS_LEASE_SECONDS: '' }).leaseSeconds).toBe(10);
    expect(readConfig({ ...usual, ZOGRAPHOS_MAX_MEMORY_MB: '512' }).memoryLimitBytes).toBe(512e6);
  });

  it.each([
    ['ZOGRAPHOS_PORT', 'eighty'],
    ['ZOGRAPHOS_PORT', '70000'],
    ['ZOGRAPHOS_LEASE_SECONDS', '-1'],
    ['ZOGRAPHOS_MAX_EXPANDED_BYTES', '1e3x'],
    ['ZOGRAPHOS_MAX_PIXELS', 'lots'],
    ['ZOGRAPHOS_MAX_TRIANGLES', '0'],
    ['ZOGRAPHOS_MAX_MEMORY_MB', '1.5'],
  ])('refuses %s=%s at the start, by name', (name, value) => {
    expect(() => readConfig({ ...usual, [name]: value })).toThrow(new RegExp(`${name} is “${value}”`));
  });

  it('says what is missing', () => {
    expect(() => readConfig({})).toThrow(/Set DATABASE_URL/);
  });
});
