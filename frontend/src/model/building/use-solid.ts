import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Solid } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { parsePart, type SolidPart } from "./solid-form";

export type LoadedPart = SolidPart & { number: number };
export type Loading = { parts: LoadedPart[]; done: number; of: number; problem: string };

const NONE: Loading = { parts: [], done: 0, of: 0, problem: "" };

/** What parts the model has; asked for anew when its revision changes. */
export const useSolid = (project: number, revision: number) =>
  useQuery({
    queryKey: ["solid", project, revision],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      unwrap<Solid>(client.GET("/api/projects/{id}/solid", { params: { path: { id: project } } })),
  });

/** The model part by part, the storey nearest to a height first; `alone`: the storey whose part has to have all of its
 * elements, also those that a large model leaves out. The browser keeps parts under their content. */
export function useParts(project: number, solid: Solid | undefined, near: number, alone: string): Loading {
  const [loading, setLoading] = useState<Loading>(NONE);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the height only says what comes first
  useEffect(() => {
    if (!solid) return;
    let stopped = false;
    const of = solid.parts.reduce((sum, p) => sum + p.triangles, 0);
    const order = [...solid.parts].sort(
      (a, b) => far(a.elevation, near) - far(b.elevation, near) || a.number - b.number,
    );
    setLoading({ ...NONE, of });
    (async () => {
      for (const { number } of order) {
        const part = await fetched(project, solid, number, false);
        if (stopped) return;
        setLoading((old) => ({
          ...old,
          parts: [...old.parts, part],
          done: old.done + part.triangles.length / 3,
        }));
      }
    })().catch((error: Error) => {
      if (!stopped) setLoading((old) => ({ ...old, problem: error.message }));
    });
    return () => {
      stopped = true;
    };
  }, [project, solid?.geometry]);
  const number = solid?.parts.find((p) => p.missing > 0 && p.storey !== "" && p.storey === alone)?.number;
  const [whole, setWhole] = useState<LoadedPart | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: its geometry says all of the model
  useEffect(() => {
    setWhole(null);
    if (!solid || number === undefined) return;
    let stopped = false;
    fetched(project, solid, number, true)
      .then((part) => !stopped && setWhole(part))
      .catch((error: Error) => !stopped && setLoading((old) => ({ ...old, problem: error.message })));
    return () => {
      stopped = true;
    };
  }, [project, solid?.geometry, number]);
  const parts = useMemo(
    () => (whole ? [...loading.parts.filter((p) => p.storey !== whole.storey), whole] : loading.parts),
    [loading.parts, whole],
  );
  return { ...loading, parts };
}

async function fetched(project: number, { geometry }: Solid, number: number, whole: boolean) {
  const url = `/api/projects/${project}/solid/${number}?of=${geometry}${whole ? "&whole=true" : ""}`;
  const response = await fetch(url);
  if (!response.ok) throw new Error("The model could not be loaded; look at the Drawings meanwhile.");
  return { ...parsePart(await response.arrayBuffer()), number };
}

const far = (elevation: number, height: number) => Math.abs(elevation - height);
