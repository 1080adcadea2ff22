/** Things by name, and nothing by any other: plain objects have a `constructor`, whatever is put into them. */
export const table = <T>(of: Readonly<Record<string, T>>): Readonly<Record<string, T>> =>
  Object.assign(Object.create(null) as Record<string, T>, of);
