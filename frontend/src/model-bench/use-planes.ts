import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Drawing, DrawingPlanes, PlaneCutFound } from "../api/client";
import { client, unwrap } from "../api/client";
import type { Plane } from "./opening";

const REST = 150; // ms after which a plane that was moved rests
const NO_PLANES: DrawingPlanes[] = [];

/** The planes of all drawings; asked for again when a drawing changes. */
export function usePlanes(project: number, drawings: Drawing[]): DrawingPlanes[] {
  const said = drawings.map((d) => `${d.id} ${d.view}`).join();
  const { data } = useQuery({
    queryKey: ["planes", project, said],
    enabled: said !== "",
    placeholderData: (before: DrawingPlanes[] | undefined) => before,
    queryFn: () =>
      unwrap<DrawingPlanes[]>(client.GET("/api/projects/{id}/planes", { params: { path: { id: project } } })),
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
