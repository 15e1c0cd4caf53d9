import { useEffect, useRef } from "react";
import type { Drawing, Publication, Recut } from "../client";
import { client, unwrap } from "../client";
import type { Row } from "../newest";
import { hearPublication } from "../publications";
import { keys, putDrawing, queryClient, renew, whenSaved } from "../queries";
import { hearRecut } from "../recut";
import { hearTables } from "../tables";
import { EventLine } from "./event-line";
import type { FromTab, ToTab } from "./events-worker";
import { hearPresence } from "./presence";

/** A row that changed: its table, number, and version; null when it is gone. */
type Notice = [table: string, id: number, version: number | null];
type Message = {
  project: number | null;
  what: string;
  rows: Notice[] | null;
  /** The drawings of the rows as they are now, unless they are many. */
  drawings?: Drawing[];
  recut?: Recut;
  publication?: Publication;
  who?: Parameters<typeof hearPresence>[1];
};

// what else changes how drawings look
const OTHERS = [
  "placement",
  "sheet",
  "standard",
  "shown_set",
  "shared_extents",
  "callout_reference",
  "project",
  "touch_up",
  "annotation", // whether a drawing has any
  "ground",
  "drawing_rule", // in what drawings depart from it
];
const LATER = 300; // ms
const MANY = 2; // drawings; more of them are read as a list

/** Keep what is shown as new as the database, and read nothing that this window knows already. */
export function useServerEvents(project: number | null) {
  const line = useRef<Line>(undefined);
  useEffect(() => {
    const first = !line.current;
    line.current ??= opened(address());
    line.current.show(project, first ? performance.now() : forget());
  }, [project]);
  useEffect(
    () => () => {
      line.current?.close();
      line.current = undefined;
    },
    [],
  );
}

/** Where changes are told, as the server says in the page. */
const address = () => document.querySelector<HTMLMetaElement>("meta[name=events]")?.content ?? "/api/events";

type Line = { show: (project: number | null, age: number) => void; close: () => void };

/** The connection that all tabs of this browser share; where a browser can't share one, one of its own. */
function opened(url: string): Line {
  if (typeof SharedWorker === "undefined") {
    const line = new EventLine(url);
    const key = {};
    return {
      show: (project, age) => line.set(key, { project, age, hear: (told) => hear(told as Message) }),
      close: () => line.drop(key),
    };
  }
  const { port } = new SharedWorker(new URL("./events-worker.ts", import.meta.url), { type: "module" });
  port.onmessage = ({ data }: MessageEvent<ToTab>) => hear(data as Message);
  const [life, end] = navigator.locks ? livingAs() : [Promise.resolve(""), () => {}];
  let last: number | null = null;
  const show = async (project: number | null, age: number) => {
    const began = performance.now() - age;
    last = project;
    const named = await life;
    port.postMessage({ url, project, age: performance.now() - began, life: named } satisfies FromTab);
  };
  const go = () => port.postMessage(null satisfies FromTab);
  const back = (event: PageTransitionEvent) => {
    if (event.persisted) show(last, forget());
  };
  window.addEventListener("pagehide", go);
  window.addEventListener("pageshow", back);
  const close = () => {
    window.removeEventListener("pagehide", go);
    window.removeEventListener("pageshow", back);
    go();
    end();
  };
  return { show, close };
}

/** What was read before is read again where it shows, as nobody told of its changes; for how many ms that is so now. */
function forget(): number {
  const now = Date.now();
  queryClient.invalidateQueries({
    predicate: (q) => q.state.dataUpdatedAt > 0 && q.state.dataUpdatedAt <= now,
  });
  return LATER;
}

/** The name of a lock that this page holds until it ends, however it does; and what ends it before. */
function livingAs(): [Promise<string>, () => void] {
  const name = `page ${crypto.randomUUID()}`;
  let release = () => {};
  const held = new Promise<string>((done) => {
    navigator.locks.request(name, () => {
      done(name);
      return new Promise<void>((free) => {
        release = free;
      });
    });
  });
  return [held, () => release()];
}

function hear({ project, what, rows, drawings, who, recut, publication }: Message) {
  if (publication) {
    hearPublication(publication);
    return;
  }
  if (recut && project !== null) {
    if (queryClient.getQueryData(keys.drawings(project))) hearRecut(project, recut);
    return;
  }
  if (who && project !== null) {
    hearPresence(project, who);
    return;
  }
  if (what === "notices") {
    renew({ queryKey: keys.notices });
    return;
  }
  if (project === null || what === "edit project" || what === "delete project") {
    renew({ queryKey: keys.imports });
    renew({ queryKey: keys.projects });
  }
  if (project === null) {
    if (what === "connected") renew({});
    return;
  }
  if (!rows) {
    renew({ queryKey: keys.project(project), exact: what === "import" }); // a proposal changes nothing but its count
    return;
  }
  renew({ queryKey: keys.history(project) });
  for (const drawing of drawings ?? []) putDrawing(queryClient, project, drawing);
  const of = (table: string) => rows.filter((row) => row[0] === table);
  // numbers of placements and sheets show in the list of drawings, and a standard changes how they look
  renewDrawings(
    project,
    of("drawing"),
    OTHERS.some((t) => of(t).length > 0) || hasCallouts(project, of("drawing")),
  );
  // a change of graphics seldom shows in markers: what people look at comes first
  if (["drawing", "placement", "sheet", "shared_extents", "callout_reference"].some((t) => of(t).length > 0))
    setTimeout(() => renew({ queryKey: keys.markers(project) }), what === "edit graphics" ? LATER : 0);
  if (of("annotation").length > 0) renew({ queryKey: keys.annotations(project) });
  if (of("touch_up").length > 0) renew({ queryKey: keys.touchUps(project) });
  if (["annotation", "touch_up", "drawing"].some((t) => of(t).length > 0))
    renew({ queryKey: keys.unsettled(project) });
  if (of("shown_set").length > 0) renew({ queryKey: keys.shownSets(project) });
  hearTables(project, of("project_table"));
  if (of("sheet").length > 0) renew({ queryKey: keys.tables(project) });
  else if (["drawing", "placement"].some((t) => of(t).length > 0))
    renew({ queryKey: [...keys.tables(project), "content"] });
  if (of("drawing_rule").length > 0) renew({ queryKey: keys.drawingRules(project) });
  if (of("shared_extents").length > 0) renew({ queryKey: keys.sharedExtents(project) });
  if (["viewpoint", "drawing", "shared_extents", "shown_set", "standard"].some((t) => of(t).length > 0))
    renew({ queryKey: keys.viewpoints(project) }); // they tell what they name and is gone
  if (of("standard").length > 0) renew({ queryKey: keys.standards(project) });
  if (of("ground").length > 0) renewGround(project);
  if (of("sheet_design").length > 0) renew({ queryKey: keys.designs(project) });
  if (of("project").length > 0) renew({ queryKey: keys.project(project), exact: true });
  renew({ queryKey: keys.checks(project), exact: true });
  if (of("left_finding").length > 0) renew({ queryKey: keys.checks(project) });
  renewSheets(project);
}

/** The model stands in another ground: what is read of it is read again. */
function renewGround(project: number) {
  renew({ queryKey: keys.ground(project) });
  renew({ queryKey: keys.project(project), exact: true });
  for (const what of ["solid", "solid look", "places", "planes", "plane"])
    renew({ queryKey: [what, project] });
  renew({ queryKey: ["cut report"] });
}

/** Whether anything was called out from drawings that changed: it follows them. */
function hasCallouts(project: number, changed: Notice[]): boolean {
  const ids = new Set(changed.map(([, id]) => id));
  const known = queryClient.getQueryData<Drawing[]>(keys.drawings(project));
  return known?.some((d) => d.callout && d.parent_id !== null && ids.has(d.parent_id)) ?? false;
}

let later: ReturnType<typeof setTimeout> | undefined;

/** The register follows a moment later, once for several changes: what people look at comes first. */
function renewSheets(project: number) {
  clearTimeout(later);
  later = setTimeout(() => renew({ queryKey: keys.sheets(project), exact: true }), LATER);
}

function renewDrawings(project: number, changed: Notice[], all: boolean) {
  const known = (id: number) =>
    queryClient.getQueryData<Drawing[]>(keys.drawings(project))?.find((d) => d.id === id)?.version;
  const news = changed.filter(([, id, now]) =>
    now === null ? known(id) !== undefined : (known(id) ?? 0) < now,
  );
  const gone = news.filter(([, , now]) => now === null).map(([, id]) => id);
  if (gone.length > 0)
    queryClient.setQueryData<Row[]>(keys.drawings(project), (list) =>
      list?.filter((d) => !gone.includes(d.id ?? 0)),
    );
  const other = news.filter(([, , now]) => now !== null);
  const list = () => renew({ queryKey: keys.drawings(project), exact: true });
  if (all || other.length > MANY) {
    list();
    return;
  }
  for (const [, id, now] of other)
    whenSaved(id)
      .then(async () => {
        if ((known(id) ?? 0) >= (now ?? 0)) return; // the answer to this window's own change
        const path = { params: { path: { id } } };
        putDrawing(queryClient, project, await unwrap<Drawing>(client.GET("/api/drawings/{id}", path)));
      })
      .catch(list);
}
