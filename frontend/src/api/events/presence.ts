import { useEffect } from "react";
import { create } from "zustand";
import { client } from "../client";
import { usePerson, windowName } from "./person";

/** Another window in the same project. */
export type Other = { window: string; name: string; drawing: number | null; seen: number };

const BEAT = 15_000; // ms between signs of life
const GONE = 40_000; // ms after which a silent window has left

type Presence = {
  others: Other[];
  at: { project: number; drawing: number | null } | null;
};

export const usePresence = create<Presence>(() => ({ others: [], at: null }));

const say = (here: boolean) => {
  const { at } = usePresence.getState();
  if (!at) return;
  const body = { window: windowName, name: usePerson.getState().name, drawing: at.drawing, here };
  const path = { id: at.project };
  client
    .POST("/api/projects/{id}/presence", { params: { path }, body, keepalive: !here })
    .catch(() => undefined); // an outage is told by what the person does
};

type Said = { window: string; name: string; drawing: number | null; here: boolean };

/** Another window said where it is; one that was not known is told who is here. */
export function hearPresence(project: number, who: Said) {
  const { others, at } = usePresence.getState();
  if (who.window === windowName || at?.project !== project) return;
  const rest = others.filter((o) => o.window !== who.window);
  const { here, ...other } = who;
  usePresence.setState({ others: here ? [...rest, { ...other, seen: Date.now() }] : rest });
  if (here && rest.length === others.length) say(true);
}

/** Tell the others of a project which drawing this window shows, as long as it is open. */
export function useAnnounced(project: number, drawing: number | undefined) {
  const name = usePerson((s) => s.name);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new name is told too
  useEffect(() => {
    const before = usePresence.getState();
    const others = before.at?.project === project ? before.others : [];
    usePresence.setState({ at: { project, drawing: drawing ?? null }, others });
    const soon = setTimeout(() => say(true), 400);
    return () => clearTimeout(soon);
  }, [project, drawing, name]);
  useEffect(() => {
    const leave = () => say(false);
    const beat = setInterval(() => {
      const old = Date.now() - GONE;
      usePresence.setState((s) => ({ others: s.others.filter((o) => o.seen > old) }));
      say(true);
    }, BEAT);
    window.addEventListener("pagehide", leave);
    return () => {
      clearInterval(beat);
      window.removeEventListener("pagehide", leave);
      leave();
      usePresence.setState({ at: null, others: [] });
    };
  }, []);
}

export const initials = (name: string) =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .slice(0, 2)
    .map((word) => word[0]?.toUpperCase())
    .join("") || "?";
