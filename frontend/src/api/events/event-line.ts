/** What the server tells: of a project, or (null) what concerns everybody. */
export type Told = { project: number | null };

/** To whom it is passed on; `age`: ms since it began to read what it shows, of which it hears what happened since. */
export type Listener = { project: number | null; age: number; hear: (told: Told) => void };

const AGAIN = 2000; // ms until a refused connection is tried again
const REMEMBERED = 1000; // events

type Heard = Listener & { since: number };

/**
 * One connection to the server for any number of listeners, each of a project or of none. Where they want other
 * projects than before, another connection is opened, and the one before it ends when that stands: nothing is missed,
 * and what both tell is passed on once.
 */
export class EventLine {
  private listeners = new Map<object, Heard>();
  private source: EventSource | undefined;
  private wanted = "";
  private last = "";
  private told = new Map<string, { at: number; told: Told }>(); // by id, the oldest first
  private waiting: ReturnType<typeof setTimeout> | undefined;

  constructor(private url: string) {}

  set(key: object, listener: Listener) {
    const heard = { ...listener, since: Date.now() - listener.age };
    this.listeners.set(key, heard);
    for (const { at, told } of this.told.values()) if (at >= heard.since) this.pass(heard, told);
    this.adjust(listener.age);
  }

  drop(key: object) {
    if (this.listeners.delete(key)) this.adjust(0);
  }

  private projects(): string {
    const all = [...this.listeners.values()].flatMap((l) => (l.project === null ? [] : [l.project]));
    return [...new Set(all)].sort((a, b) => a - b).join(",");
  }

  private adjust(age: number) {
    if (this.listeners.size === 0) {
      this.source?.close();
      this.source = undefined;
      this.last = "";
      this.told.clear();
      return;
    }
    const stands = this.source && this.source.readyState !== EventSource.CLOSED;
    if (!stands || this.wanted !== this.projects()) this.open(age);
  }

  private open(age: number) {
    clearTimeout(this.waiting);
    const before = this.source;
    this.wanted = this.projects();
    const query = new URLSearchParams({ projects: this.wanted, after: this.last, age: `${Math.ceil(age)}` });
    const source = new EventSource(`${this.url}?${query}`, { withCredentials: true });
    this.source = source;
    source.onopen = () => before?.close();
    source.onmessage = (event) => this.take(event);
    source.onerror = () => {
      if (this.source !== source || source.readyState !== EventSource.CLOSED) return; // else it tries by itself
      before?.close();
      const began = Date.now() - age;
      this.waiting = setTimeout(() => this.listeners.size > 0 && this.open(Date.now() - began), AGAIN);
    };
  }

  private take({ data, lastEventId }: MessageEvent<string>) {
    if (this.told.has(lastEventId)) return;
    const told = JSON.parse(data) as Told;
    this.told.set(lastEventId, { at: Date.now(), told });
    this.last = lastEventId;
    for (const oldest of this.told.keys()) {
      if (this.told.size <= REMEMBERED) break;
      this.told.delete(oldest);
    }
    for (const listener of this.listeners.values()) this.pass(listener, told);
  }

  private pass(listener: Listener, told: Told) {
    if (told.project === null || told.project === listener.project) listener.hear(told);
  }
}
