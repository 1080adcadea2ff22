/** Files taken along from one screen to the next: dropped on the shelf, brought in on the bench. */
let waiting: File[] = [];

export const handOver = (files: File[]): void => {
  waiting = files;
};
export function takeOver(): File[] {
  const files = waiting;
  waiting = [];
  return files;
}
