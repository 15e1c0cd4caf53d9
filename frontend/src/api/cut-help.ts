import { useQuery } from "@tanstack/react-query";
import {
  type Cut,
  type CutReport,
  client,
  type Drawing,
  type LineActRequest,
  type Places,
  type SectionCut,
  type Style,
  unwrap,
} from "./client";

/** What a section passes through and just misses; asked for again when it is cut otherwise. */
export const useCutReport = (project: number, drawing: Drawing, cut: Cut, style: Style) =>
  useQuery({
    queryKey: ["cut report", drawing.id, JSON.stringify(drawing.cut)],
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    placeholderData: (before: CutReport | undefined) => before,
    queryFn: () =>
      unwrap<CutReport>(
        client.POST("/api/projects/{id}/cut-report", {
          params: { path: { id: project } },
          body: { cut, style },
        }),
      ),
  });

/** Openings, stairs, columns, rooms and the grid of a project's model. */
export const usePlaces = (project: number, wanted = true) =>
  useQuery({
    enabled: wanted,
    queryKey: ["places", project],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      unwrap<Places>(client.GET("/api/projects/{id}/places", { params: { path: { id: project } } })),
  });

/** The line laid through the middle of things, with the fewest steps. */
export const lineThrough = (project: number, cut: SectionCut, things: string[]) =>
  unwrap<SectionCut>(
    client.POST("/api/projects/{id}/line-through", {
      params: { path: { id: project } },
      body: { cut, things },
    }),
  );

export type LineAct = LineActRequest["act"];

/** A cutting line moved beside itself, turned or aligned. */
export const actOnLine = (project: number, cut: SectionCut, act: LineAct) =>
  unwrap<SectionCut>(
    client.POST("/api/projects/{id}/line-acts", { params: { path: { id: project } }, body: { cut, act } }),
  );

/** Copies of a section beside itself (metres to the side looked at), or turned. */
export const copySection = (drawing: number, by: number[], turned = 0) =>
  unwrap<Drawing[]>(
    client.POST("/api/drawings/{id}/copies", { params: { path: { id: drawing } }, body: { by, turned } }),
  );
