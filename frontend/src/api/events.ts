import { useEffect } from "react";
import type { Drawing, Publication, Recut } from "./client";
import { client, unwrap } from "./client";
import { hearPresence } from "./presence";
import { hearPublication } from "./publications";
import { keys, putDrawing, queryClient, type Row, renew, whenSaved } from "./queries";
import { hearRecut } from "./recut";

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
];
const LATER = 300; // ms
const MANY = 2; // drawings; more of them are read as a list

/** Keep what is shown as new as the database, and read nothing that this window knows already. */
export function useServerEvents() {
  useEffect(() => {
    const source = new EventSource("/api/events");
    // what was read before this window listened, or while it did not, may be another by now
    source.onopen = () => queryClient.invalidateQueries({ predicate: (q) => q.state.dataUpdatedAt > 0 });
    source.onmessage = (event) => hear(JSON.parse(event.data) as Message);
    return () => source.close();
  }, []);
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
  if (project === null || what === "edit project" || what === "delete project") {
    renew({ queryKey: keys.imports });
    renew({ queryKey: keys.projects });
  }
  if (project === null) {
    if (what === "connected") renew({});
    return;
  }
  if (!rows) {
    renew({ queryKey: keys.project(project) });
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
  if (of("shared_extents").length > 0) renew({ queryKey: keys.sharedExtents(project) });
  if (of("standard").length > 0) renew({ queryKey: keys.standards(project) });
  if (of("sheet_design").length > 0) renew({ queryKey: keys.designs(project) });
  if (of("project").length > 0) renew({ queryKey: keys.project(project), exact: true });
  renew({ queryKey: keys.checks(project), exact: true });
  if (of("left_finding").length > 0) renew({ queryKey: keys.checks(project) });
  renewSheets(project);
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
