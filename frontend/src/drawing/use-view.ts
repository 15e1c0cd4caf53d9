import { useEffect, useState } from "react";
import { type Callout, type Cut, type Drawing, Refusal, type Style } from "../api/client";
import { whileDragged } from "../api/shared-extents";
import { parseView, type View } from "./screen-form";

export type Spec = { cut: Cut; style: Style };
/** A change that is shown before it is saved; while `saving`, the view of the saved drawing is awaited;
 * `proposed`: somebody must say first whether it is wanted. */
export type Live = Spec & { callout?: Callout; saving?: boolean; proposed?: boolean };
export type Shown = { view: View | null; busy: boolean; problem: string };

const KEPT = 24;
const recent = new Map<string, View>();

/** The answer with a view in the compact form: of a saved drawing, or of what `body` says. */
export async function askForView(url: string, body?: Spec): Promise<Response> {
  const response = await fetch(url, {
    method: body ? "POST" : "GET",
    headers: { "Content-Type": "application/json" },
    body: body ? JSON.stringify(body) : undefined,
  });
  if (!response.ok) throw new Refusal(response.status, await response.json());
  return response;
}

/** Its name, which a saved drawing carries, is kept with a view: what was shown once is not asked for again. */
async function fetchView(url: string, body?: Spec): Promise<View> {
  const response = await askForView(url, body);
  const view = parseView(await response.arrayBuffer());
  remember((response.headers.get("ETag") ?? "").replaceAll('"', ""), view);
  return view;
}

/** Asks for one view at a time; while one is under way only the newest request waits, stale ones are dropped. */
class ViewLoader {
  private running = false;
  private waiting: (() => Promise<void>) | null = null;
  private stopped = false;

  constructor(private readonly show: (shown: Partial<Shown>) => void) {}

  /** `key`: the view's name, where it is known before. */
  request(key: string | undefined, url: string, body?: Spec) {
    const known = key && recent.get(key);
    if (known) {
      this.waiting = null;
      this.show({ view: known, busy: false, problem: "" });
      return;
    }
    this.waiting = async () => {
      try {
        const view = await fetchView(url, body);
        if (!this.stopped) this.show({ view, problem: "" });
      } catch (error) {
        const outage = !(error instanceof Refusal) || error.status === 503;
        if (!this.stopped) this.show({ problem: error instanceof Error ? error.message : "" });
        if (outage && !this.stopped) {
          await new Promise((done) => setTimeout(done, 1500));
          if (!this.waiting) this.request(key, url, body);
        }
      }
    };
    void this.run();
  }

  stop() {
    this.stopped = true;
    this.waiting = null;
  }

  private async run() {
    if (this.running) return;
    this.running = true;
    this.show({ busy: true });
    while (this.waiting) {
      const next = this.waiting;
      this.waiting = null;
      await next();
    }
    this.running = false;
    if (!this.stopped) this.show({ busy: false });
  }
}

function remember(key: string, view: View) {
  recent.set(key, view);
  for (const old of recent.keys()) {
    if (recent.size <= KEPT) break;
    recent.delete(old);
  }
}

/** The view of a drawing as saved, or of a change not saved yet; the last view stays until the next is there. */
export function useView(project: number, drawing: Drawing | undefined, live: Live | undefined): Shown {
  const identity = drawing ? `drawing ${drawing.id}` : live ? "new" : "none";
  const [shown, setShown] = useState<Shown & { of: string }>({
    view: null,
    busy: false,
    problem: "",
    of: identity,
  });
  const [loader, setLoader] = useState<ViewLoader | null>(null);

  useEffect(() => {
    setShown((old) => (old.of === identity ? old : { view: null, busy: false, problem: "", of: identity }));
    const made = new ViewLoader((part) =>
      setShown((old) => (old.of === identity ? { ...old, ...part } : old)),
    );
    setLoader(made);
    return () => made.stop();
  }, [identity]);

  const saved = drawing && JSON.stringify([drawing.id, drawing.view]);
  const unsaved =
    live &&
    JSON.stringify({
      cut: drawing ? whileDragged(live.cut, drawing.cut) : live.cut,
      style: live.style,
      drawing: drawing?.id ?? null,
    });
  const saving = live?.saving ?? false;
  useEffect(() => {
    if (!loader || saving) return;
    if (unsaved) loader.request(undefined, `/api/projects/${project}/view`, JSON.parse(unsaved));
    else if (saved) {
      const [id, name] = JSON.parse(saved);
      loader.request(name, `/api/drawings/${id}/view`);
    }
  }, [loader, project, saved, unsaved, saving]);
  return shown.of === identity ? shown : { view: null, busy: true, problem: "" };
}
