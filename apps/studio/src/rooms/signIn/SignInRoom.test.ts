// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest';
import { CallError } from '../../api/call.ts';
import { openRoom, settle, type } from '../../testing/room.ts';
import SignInRoom from './SignInRoom.vue';

async function signIn(phrase: string, to: string | null, answer: unknown) {
  const opened = await openRoom(SignInRoom, {}, { project: null, answers: { signIn: answer } });
  await opened.router.push({ name: 'signIn', query: to === null ? {} : { to } });
  await type(opened.room.find('input').element, phrase);
  await opened.room.find('form').trigger('submit');
  await settle();
  return opened;
}

describe('signing in', () => {
  it('leads back to where one was', async () => {
    const { calls, router } = await signIn('ebb and flow', '/receive', undefined);
    expect(calls).toEqual([{ name: 'signIn', params: {}, body: { passphrase: 'ebb and flow' } }]);
    expect(router.currentRoute.value.path).toBe('/receive');
  });

  it.each([null, 'https://evil.example/', '//evil.example/'])('leads to the projects from %s', async (to) => {
    const { router } = await signIn('ebb and flow', to, undefined);
    expect(router.currentRoute.value.name).toBe('projects');
  });

  it('says why it was refused, and stays', async () => {
    const refusal = new CallError('access/too-many', 'Too many wrong passphrases. Try again in 8 seconds.');
    const { text, router } = await signIn('ebb', null, refusal);
    expect(text()).toContain('Try again in 8 seconds.');
    expect(router.currentRoute.value.name).toBe('signIn');
  });

  it('asks for a passphrase where none is given, and sends nothing', async () => {
    const { text, calls } = await signIn('', null, undefined);
    expect(text()).toContain('Type the passphrase.');
    expect(calls).toEqual([]);
  });
});
