/**
 * A process that draws, with limits of time and memory: whatever a document or a file in it does, only that process
 * ends. Memory is read off the system, since arrays lie outside of what the engine limits itself.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setPriority } from 'node:os';
import type { Picture } from './pictures';
import type { PictureJob } from './queue';

export interface Limits {
  /** Milliseconds of work for one picture, whoever else is busy meanwhile. */
  time: number;
  /** Bytes resident. */
  memory: number;
  /** Milliseconds in all, the waiting for others included: then it is given to another. */
  patience: number;
  /** How much it gives way to others: 0 not at all, 19 always. */
  gives: number;
}

export const LIMITS: Limits = { time: 20_000, memory: 900 * 1024 * 1024, patience: 120_000, gives: 10 };
/** A process is exchanged for a new one after so many pictures. */
const MOST_DRAWN = 60;
const LOOK_EVERY = 40;
const PAGE = 4096;
/** Milliseconds of a tick of the system's accounts. */
const TICK = 10;

/** What a drawing process answers. `again`: it was not the document's fault. */
export type Drawn = Picture | { again: string };

function resident(pid: number): number {
  try {
    return PAGE * Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
  } catch {
    return 0;
  }
}

/** Milliseconds that a process has worked. */
function worked(pid: number): number {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /, '')
      .split(' ');
    return TICK * (Number(fields[11]) + Number(fields[12]));
  } catch {
    return 0;
  }
}

export class Drawer {
  private child: ChildProcess | undefined;
  private drawn = 0;

  /** `script` is run with `args` and answers each job that is sent to it with one message. */
  constructor(
    private readonly script: string,
    private readonly args: readonly string[],
    private readonly limits = LIMITS,
  ) {}

  private process(): ChildProcess {
    if (this.child) return this.child;
    const child = fork(this.script, this.args, {
      serialization: 'advanced',
      execArgv: ['--max-old-space-size=640'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    try {
      setPriority(child.pid!, this.limits.gives); // pictures wait for people, not the other way round
    } catch {
      /* then it is no less important than others */
    }
    child.on('error', () => undefined);
    this.child = child;
    this.drawn = 0;
    return child;
  }

  draw(job: PictureJob): Promise<Drawn> {
    const child = this.process();
    const { time, memory, patience } = this.limits;
    return new Promise((resolve) => {
      const end = (outcome: Drawn, kill: boolean) => {
        clearTimeout(timer);
        clearInterval(watch);
        child.removeAllListeners('message').removeAllListeners('exit');
        if (kill || ++this.drawn >= MOST_DRAWN) this.end();
        resolve(outcome);
      };
      const before = worked(child.pid!);
      const timer = setTimeout(() => end({ again: 'It did not come to its turn.' }, true), patience);
      const watch = setInterval(() => {
        if (worked(child.pid!) - before > time) end({ failed: `It takes more than ${time / 1000} s to draw.` }, true);
        if (resident(child.pid!) > memory)
          end({ failed: `It takes more than ${Math.round(memory / 1048576)} MB to draw.` }, true);
      }, LOOK_EVERY);
      child.once('message', (m) => end(m as Drawn, false));
      child.once('exit', () => end({ failed: 'The drawing ended before it was done.' }, true));
      child.send(job, (e) => {
        if (e) end({ again: e.message }, true);
      });
    });
  }

  end(): void {
    this.child?.kill('SIGKILL');
    this.child = undefined;
  }
}
