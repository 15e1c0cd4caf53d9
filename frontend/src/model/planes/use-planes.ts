import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Drawing, DrawingPlanes, PlaneCutFound } from "../../api/client";
import { client, unwrap } from "../../api/client";
import type { Plane } from "../opening/opening";

const REST = 150; // ms after which a plane that was moved rests
const NO_PLANES: DrawingPlanes[] = [];

/** The planes of all drawings, or of one; asked for again when a cut or a title changes. */
export function usePlanes(project: number, drawings: Drawing[], only?: number): DrawingPlanes[] {
  const said = useMemo(
    () =>
      JSON.stringify(
        drawings
          .filter((d) => only === undefined || d.id === only)
          .map((d) => [d.id, d.title, d.letter, d.cut]),
      ),
    [drawings, only],
  );
  const { data } = useQuery({
    queryKey: ["planes", project, said],
    enabled: said !== "[]",
    placeholderData: (before: DrawingPlanes[] | undefined) => before,
    queryFn: () =>
      unwrap<DrawingPlanes[]>(
        client.GET("/api/projects/{id}/planes", {
          params: { path: { id: project }, query: only === undefined ? {} : { drawing: only } },
        }),
      ),
  });
  return data ?? NO_PLANES;
}

type How = { depth?: number | null; perspective?: boolean; like?: number | null };

/** A plane as a cut of the kind that fits. */
export const cutOfPlane = (
  project: number,
  plane: Plane,
  { depth = null, perspective = false, like = null }: How = {},
) =>
  unwrap<PlaneCutFound>(
    client.POST("/api/projects/{id}/planes", {
      params: { path: { id: project } },
      body: { ...plane, depth, perspective, like },
    }),
  );

/** What a plane gives as a cut; asked for when it rests. */
export function useFound(project: number, plane: Plane | null) {
  const [rested, setRested] = useState<Plane | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setRested(plane), REST);
    return () => clearTimeout(timer);
  }, [plane]);
  const { data, error } = useQuery({
    queryKey: ["plane", project, rested],
    enabled: rested !== null,
    retry: false,
    queryFn: () => cutOfPlane(project, rested as Plane),
  });
  return {
    found: plane && rested ? (data ?? null) : null,
    problem: plane && rested && error ? error.message : "",
  };
}
