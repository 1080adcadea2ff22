import { isAccepted, licencePage, problemsOf, type Lock } from './licences';

const integrity = `sha512-${'a'.repeat(86)}==`;
const lock = (part: object, path = 'node_modules/oakum'): Lock => ({
  packages: { '': {}, [path]: { version: '1.2.0', integrity, license: 'MIT', ...part } },
});
const sound = lock({});

test('sound: nothing to say', () => {
  expect(problemsOf(sound, sound)).toEqual([]);
});

test.each([
  [lock({ integrity: undefined }), sound, /oakum is locked without a sha512/],
  [lock({ integrity: 'sha1-abc' }), sound, /without a sha512/],
  [lock({ resolved: 'git+ssh://git@quay.example/oakum.git' }), sound, /does not come from the package registry/],
  [lock({ license: undefined }), sound, /does not say under which licence/],
  [lock({ license: 'AGPL-3.0-only' }), sound, /AGPL-3\.0-only, which is not accepted/],
  [sound, { packages: {} }, /locked and not installed/],
  [sound, lock({ version: '1.2.1' }), /installed as 1\.2\.1, not as the lock file has it, 1\.2\.0/],
  [sound, lock({ integrity: `sha512-${'b'.repeat(86)}==` }), /not as the lock file has it/],
  [{ packages: {} }, sound, /installed and not locked/],
])('%# is told in one sentence', (locked, installed, said) => {
  expect(problemsOf(locked, installed).join('\n')).toMatch(said);
});

test('what another system needs may be missing here', () => {
  expect(problemsOf(lock({ optional: true }), { packages: {} })).toEqual([]);
});

test('expressions: of alternatives one, of parts all', () => {
  expect(isAccepted('(MIT OR GPL-3.0-only)')).toBe(true);
  expect(isAccepted('Apache-2.0 AND GPL-3.0-only')).toBe(false);
  expect(isAccepted('Apache-2.0 AND MIT')).toBe(true);
});

test('the page parts what goes out from what builds it, and names scoped packages in full', () => {
  const page = licencePage({
    packages: {
      '': {},
      'node_modules/@quay/rope': { version: '2.0.0', integrity, license: 'ISC' },
      'node_modules/a/node_modules/knot': { version: '1.0.0', integrity, license: 'MIT', dev: true },
    },
  });
  expect(page).toMatch(/## In the application\n\n\*\*ISC\*\* \(1\): @quay\/rope 2\.0\.0/);
  expect(page).toMatch(/testing it\n\n\*\*MIT\*\* \(1\): knot 1\.0\.0/);
});
