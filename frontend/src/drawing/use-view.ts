import { useEffect, useLayoutEffect, useState } from "react";
import { type Callout, type Cut, type Drawing, fetched, Refusal, type Style } from "../api/client";
import { whileDragged } from "../api/shared-extents";
import { withFar } from "./moved-along";
import { parseView, type View } from "./screen-form";
import { timed } from "./timed";

export type Spec = { cut: Cut; style: Style };
/** A change that is shown before it is saved; while `saving`, the view of the saved drawing is awaited;
 * `proposed`: somebody must say first whether it is wanted. */
export type Live = Spec & { callout?: Callout; saving?: boolean; proposed?: boolean };
/** `moving`: only what a hand that moves the cut must see at once. */
type Asked = Spec & { moving?: boolean };
export type Shown = { view: View | null; busy: boolean; problem: string };

const KEPT = 24;
const REST = 120; // ms without a change until a drawing that is being moved is drawn whole
const recent = new Map<string, View>();

/** The answer with a view in the compact form: of a saved drawing, or of what `body` says. */
export async function askForView(url: string, body?: Asked, signal?: AbortSignal): Promise<Response> {
  const response = await fetched(url, {
    method: body ? "POST" : "GET",
    headers: { "Content-Type": "application/json" },
    body: body ? JSON.stringify(body) : undefined,
    signal,
  });
  return response;
}

/** A view, and its name, which a saved drawing carries. */
async function fetchView(url: string, body?: Asked, signal?: AbortSignal): Promise<[string, View]> {
  const response = await askForView(url, body, signal);
  const data = await response.arrayBuffer();
  const view = timed("decode", () => parseView(data));
  return [(response.headers.get("ETag") ?? "").replaceAll('"', ""), view];
}

/** What a pane asks for: `key` is the view's name where it is known before, `cut` says where the drawing is cut. */
type Wanted = { key?: string; url: string; cut: string; body?: Asked };

/** Asks for one view at a time; while one is under way only the newest request waits, stale ones are dropped. While a
 * cut is moved, what a hand must see at once comes first, and the whole drawing as soon as the hand rests. */
export class ViewLoader {
  private running = false;
  private waiting: Wanted | null = null;
  private stopped = false;
  /** How often a view that was known took the place of all that was asked for before. */
  private turn = 0;
  private cut = "";
  /** The last whole drawing that was shown. */
  private whole: View | null = null;
  /** Ends the rest, or the whole drawing on its way, when something newer is wanted. */
  private hurry: () => void = () => undefined;

  constructor(
    private readonly show: (shown: Partial<Shown>) => void,
    private readonly fetched = fetchView,
    private readonly rest = REST,
  ) {}

  request(wanted: Wanted) {
    const known = wanted.key && recent.get(wanted.key);
    this.waiting = known ? null : wanted;
    this.hurry();
    if (known) {
      this.turn += 1;
      this.cut = wanted.cut;
      this.whole = known;
      this.show({ view: known, busy: false, problem: "" });
    } else {
      this.show({ busy: true });
      void this.run();
    }
  }

  stop() {
    this.stopped = true;
    this.waiting = null;
    this.hurry();
  }

  private async run() {
    if (this.running) return;
    this.running = true;
    while (this.waiting) {
      const next: Wanted = this.waiting;
      this.waiting = null;
      const { body } = next;
      const moved = this.cut !== "" && this.cut !== next.cut;
      this.cut = next.cut;
      if (!body || !moved) await this.load(next, body);
      else if ((await this.load(next, { ...body, moving: true })) && (await this.rests()))
        await this.load(next, body, this.hurried());
    }
    this.running = false;
    if (!this.stopped) this.show({ busy: false });
  }

  /** Whether it came; what something newer took the place of did not. */
  private async load(wanted: Wanted, body?: Asked, signal?: AbortSignal): Promise<boolean> {
    const past = this.past();
    try {
      const [name, view] = await this.fetched(wanted.url, body, signal);
      if (!body?.moving) remember(name, view);
      if (past() || signal?.aborted) return false;
      if (!body?.moving) this.whole = view;
      this.show({ view: body?.moving ? withFar(view, this.whole) : view, problem: "" });
      return true;
    } catch (error) {
      if (past() || signal?.aborted) return false;
      this.show({ problem: error instanceof Error ? error.message : "" });
      if (!(error instanceof Refusal) || error.status === 503) {
        await new Promise((done) => setTimeout(done, 1500));
        if (!this.waiting && !past()) this.waiting = wanted;
      }
      return false;
    }
  }

  /** Whether nothing newer is wanted for a moment. */
  private async rests(): Promise<boolean> {
    const past = this.past();
    if (!this.waiting) {
      await new Promise<void>((done) => {
        this.hurry = done;
        setTimeout(done, this.rest);
      });
    }
    return !this.waiting && !past();
  }

  /** Says later whether what was begun now is wanted no more. */
  private past(): () => boolean {
    const turn = this.turn;
    return () => this.stopped || turn !== this.turn;
  }

  private hurried(): AbortSignal {
    const ending = new AbortController();
    this.hurry = () => ending.abort();
    return ending.signal;
  }
}

/** What was shown once is not asked for again. */
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

  const saved = drawing && JSON.stringify([drawing.id, drawing.view, JSON.stringify(drawing.cut)]);
  const unsaved =
    live &&
    JSON.stringify({
      cut: drawing ? whileDragged(live.cut, drawing.cut) : live.cut,
      style: live.style,
      drawing: drawing?.id ?? null,
    });
  const saving = live?.saving ?? false;
  // before the next frame is painted: a hand that drags feels every wait
  useLayoutEffect(() => {
    if (!loader || saving) return;
    if (unsaved) {
      const body = JSON.parse(unsaved);
      loader.request({ url: `/api/projects/${project}/view`, cut: JSON.stringify(body.cut), body });
    } else if (saved) {
      const [id, key, cut] = JSON.parse(saved);
      loader.request({ key, url: `/api/drawings/${id}/view`, cut });
    }
  }, [loader, project, saved, unsaved, saving]);
  return shown.of === identity ? shown : { view: null, busy: true, problem: "" };
}
