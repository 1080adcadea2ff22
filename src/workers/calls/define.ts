import type { Host, Task } from '../host';

/**
 * One thing that a worker can be asked. A new one is a file beside this one and its name in `index.ts`; the page's side
 * is typed by it.
 */
export interface Call<Q, A> {
  run(host: Host, query: Q, task: Task): A | Promise<A>;
}

export const defineCall = <Q, A>(run: Call<Q, A>['run']): Call<Q, A> => ({ run });
