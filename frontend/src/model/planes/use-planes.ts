import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Drawing, DrawingPlanes, PlaneCutFound } from "../../api/client";
import { client, unwrap } from "../../api/client";
import type { Plane, Space, V3 } from "../opening/opening";

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

/** Whence a drawing looks: the direction to the viewer; of a perspective the eye, how wide it sees, and its form. */
export type Whence = { towards: V3; eye?: V3; angle?: number; aspect?: number };

/** The building as it is seen, opened, as a cut. */
export const cutOfView = (project: number, whence: Whence, openings: Space[]) =>
  unwrap<PlaneCutFound>(
    client.POST("/api/projects/{id}/views", {
      params: { path: { id: project } },
      body: { eye: null, angle: 60, aspect: 1.5, ...whence, openings },
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
