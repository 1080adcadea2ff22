/** What a project is made for, as it reads on the shelf. */
export const PURPOSES: readonly (readonly [string, string])[] = [
  ['render', 'to render'],
  ['game', 'for a game'],
  ['print', 'to print'],
];
