import { isLoopback, settingsOf } from '../src/settings';

const enough = { DATABASE_URL: 'postgres://x', STUDIO_FOLDER: '/studio' };

it('asks nothing on loopback, and for a secret anywhere else or where others use the machine', () => {
  expect(settingsOf({ ...enough, SECRET_FILE: '/s' }).secretFile).toBeNull();
  expect(settingsOf({ ...enough, SECRET_FILE: '/s', HOST: '0.0.0.0' }).secretFile).toBe('/s');
  expect(settingsOf({ ...enough, SECRET_FILE: '/s', SHARED_MACHINE: '1' }).secretFile).toBe('/s');
  expect(() => settingsOf({ ...enough, HOST: '192.168.0.7' })).toThrow('SECRET_FILE');
});

it.each([
  ['127.0.0.1', true],
  ['127.8.9.1', true],
  ['localhost', true],
  ['::1', true],
  ['[::1]', true],
  ['0.0.0.0', false],
  ['127.0.0.1.evil.example', false],
  ['::', false],
])('%s is loopback: %s', (host, is) => expect(isLoopback(host)).toBe(is));

it('names the variable that is wrong', () => {
  expect(() => settingsOf({ ...enough, PORT: 'many' })).toThrow(/^PORT/);
  expect(() => settingsOf({})).toThrow(/^DATABASE_URL/);
});
