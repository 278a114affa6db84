import { WrongSettings, environmentOf, isLoopback, settingsOf } from '../src/settings';

const enough = { DATABASE_URL: 'postgres://mill/levels', STUDIO_FOLDER: '/studio' };

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

it.each([
  ['PORT', 'abc', /^PORT is "abc": it takes a whole number from 0 to 65535$/],
  ['PORT', '99999', /^PORT is "99999": it takes a whole number/],
  ['PORT', '4e3', /^PORT/],
  ['HOST', 'no such host', /^HOST is "no such host": it takes an address of this machine/],
  ['HOST', '300.1.1.1', /^HOST/],
  ['SHARED_MACHINE', 'yes', /^SHARED_MACHINE is "yes": it takes 1 or true, 0 or false$/],
  ['LOG_LEVEL', 'loud', /^LOG_LEVEL is "loud": it takes one of fatal, error, warn, info, debug, trace, silent$/],
  ['DATABASE_URL', 'mysql://x', /^DATABASE_URL is "mysql:\/\/x": it takes the address of a PostgreSQL database/],
  ['ALLOWED_HOSTS', 'mill.example, http://x', /^ALLOWED_HOSTS/],
])('%s=%s is told in one line, with what it takes', (name, value, line) => {
  const told = (): unknown => settingsOf({ ...enough, [name]: value });
  expect(told).toThrow(WrongSettings);
  expect(told).toThrow(line);
  try {
    told();
  } catch (error) {
    expect((error as Error).message).not.toContain('\n');
  }
});

it('names every variable that is wrong, a line each, and no password', () => {
  try {
    settingsOf({ PORT: 'many', HOST: '-', LOG_LEVEL: 'loud', DATABASE_URL: 'postgras://miller:grindstone@x/y' });
  } catch (error) {
    const { message } = error as Error;
    expect(message.split('\n').map((line) => line.split(' ')[0])).toEqual(['DATABASE_URL', 'PORT', 'HOST', 'LOG_LEVEL']);
    expect(message).not.toContain('grindstone');
    return;
  }
  throw new Error('Nothing was wrong');
});

it('takes what is empty for what is not set', () => {
  const empty = { PORT: '', HOST: ' ', SHARED_MACHINE: '', LOG_LEVEL: '', ALLOWED_HOSTS: '', SECRET_FILE: '' };
  expect(settingsOf({ ...enough, ...empty })).toEqual(settingsOf(enough));
  expect(environmentOf({ DATABASE_URL: '' }).DATABASE_URL).toBe('');
  expect(() => settingsOf({})).toThrow(/^DATABASE_URL is not set/);
});
