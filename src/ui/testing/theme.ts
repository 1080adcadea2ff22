/** For tests without a page: a theme whose tokens are there, each with its own name for a value, or what is said. */
export function themed(value: (token: string) => string = (token) => token): void {
  beforeAll(() => {
    const tokens = { getPropertyValue: (name: string) => value(name.slice(2)) };
    Object.assign(globalThis, { document: { documentElement: {} }, getComputedStyle: () => tokens });
  });
  afterAll(() => {
    Reflect.deleteProperty(globalThis, 'document');
    Reflect.deleteProperty(globalThis, 'getComputedStyle');
  });
}
