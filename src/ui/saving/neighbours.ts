/** Windows of one browser on the same project: each tells the others what it has saved, so that they can follow. */
export class Neighbours {
  private readonly channel: BroadcastChannel | undefined;
  private told = 0;

  /** `onSaved`: another window has saved, and the project is at that revision now. */
  constructor(project: string, onSaved: (revision: number) => void) {
    // Where there is no such channel, a window hears of the others when it is turned to.
    if (typeof BroadcastChannel === 'undefined') return;
    this.channel = new BroadcastChannel(`glypta ${project}`);
    this.channel.onmessage = ({ data }: MessageEvent<unknown>) => {
      if (Number.isSafeInteger(data)) onSaved(data as number);
    };
  }

  saved(revision: number): void {
    if (revision <= this.told) return;
    this.told = revision;
    this.channel?.postMessage(revision);
  }

  end(): void {
    this.channel?.close();
  }
}
