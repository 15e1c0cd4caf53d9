import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Solid } from "../api/client";
import { client, unwrap } from "../api/client";
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

/** The model part by part, the storey nearest to a height first; the browser keeps parts under their content. */
export function useParts(project: number, solid: Solid | undefined, height: number): Loading {
  const [loading, setLoading] = useState<Loading>(NONE);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the height only says what comes first
  useEffect(() => {
    if (!solid) return;
    let stopped = false;
    const of = solid.parts.reduce((sum, p) => sum + p.triangles, 0);
    const order = [...solid.parts].sort((a, b) => far(a.elevation, height) - far(b.elevation, height));
    setLoading({ ...NONE, of });
    (async () => {
      for (const { number } of order) {
        const response = await fetch(`/api/projects/${project}/solid/${number}?of=${solid.geometry}`);
        if (!response.ok) throw new Error("The model could not be loaded; look at the Drawings meanwhile.");
        const part = { ...parsePart(await response.arrayBuffer()), number };
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
  return loading;
}

const far = (elevation: number, height: number) => Math.abs(elevation - height);
