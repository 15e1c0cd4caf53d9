import { EventLine, type Told } from "./event-line";

/** What a tab says: which project it shows and for how many ms, or (null) that it goes. `life` is a lock that it holds
 * as long as it is there; empty where the browser has none. */
export type FromTab = { url: string; project: number | null; age: number; life: string } | null;
export type ToTab = Told;

// of a shared worker's scope, whose types can't stand beside those of a page
declare const self: { onconnect: (event: MessageEvent) => void };

let line: EventLine | undefined;

// one worker for all tabs of a browser, which therefore hold one connection together
self.onconnect = ({ ports: [port] }) => {
  if (!port) return;
  let known = false;
  port.onmessage = ({ data }: MessageEvent<FromTab>) => {
    if (!data) {
      line?.drop(port);
      return;
    }
    line ??= new EventLine(data.url);
    const hear = (told: ToTab) => port.postMessage(told);
    line.set(port, { project: data.project, age: data.age, hear });
    if (known || !data.life) return;
    known = true;
    navigator.locks.request(data.life, () => line?.drop(port)); // granted when the tab is gone, however it went
  };
};
