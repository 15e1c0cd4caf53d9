import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { parseView, type View } from "../drawing/screen-form";
import {
  type Answers,
  type BuildUp,
  type Correction,
  type CorrectionState,
  type Cut,
  client,
  type Drawing,
  type FaceHandles,
  type FlatFaces,
  fetched,
  type InFile,
  type LayersCorrection,
  type Opening,
  type Plane,
  type Project,
  Refusal,
  type Style,
  unwrap,
} from "./client";
import { saveDrawn } from "./project";
import { keys, queryClient, report } from "./queries";

/** The build-up of an element as its file has it. */
/** The build-up of an element, or one of a name. */
export const useBuildUp = (
  project: Project | undefined,
  of: { element: string } | { name: string },
  wanted: boolean,
) =>
  useQuery({
    enabled: wanted && project !== undefined,
    queryKey: [...keys.project(project?.id ?? 0), "build-up", of, project?.revision],
    queryFn: () =>
      unwrap<BuildUp>(
        client.GET("/api/projects/{id}/build-up", {
          params: { path: { id: project?.id ?? 0 }, query: of },
        }),
      ),
  });

/** The faces of an element that can be gripped in a drawing, or, `toMeet`, all that others can be led up to. */
export const facesOf = (project: number, spec: { cut: Cut; style: Style }, element: string, toMeet = false) =>
  unwrap<FaceHandles>(
    client.POST("/api/projects/{id}/handles", {
      params: { path: { id: project } },
      body: { cut: spec.cut, style: spec.style, element, to_meet: toMeet },
    }),
  );

/** The faces of an element that can be gripped in a saved drawing. */
export const useFaces = (
  project: Project,
  drawing: Drawing | undefined,
  spec: { cut: Cut; style: Style },
  element: string | undefined,
) =>
  useQuery({
    enabled: drawing !== undefined && element !== undefined,
    queryKey: [...keys.project(project.id), "faces", drawing?.id, drawing?.view, element],
    queryFn: () => facesOf(project.id, spec, element ?? ""),
  });

/** The flat faces of an element that can be gripped in the model. */
export const useFlatFaces = (project: Project, element: string | undefined) =>
  useQuery({
    enabled: element !== undefined,
    queryKey: [...keys.project(project.id), "flat faces", element, project.version],
    queryFn: () =>
      unwrap<FlatFaces>(
        client.GET("/api/projects/{id}/faces", {
          params: { path: { id: project.id }, query: { element: element ?? "" } },
        }),
      ),
  });

/** The opening of a window or door as its file has it. */
export const useOpening = (project: Project | undefined, element: string, wanted: boolean) =>
  useQuery({
    enabled: wanted && project !== undefined,
    queryKey: [...keys.project(project?.id ?? 0), "opening", element, project?.revision],
    queryFn: () =>
      unwrap<{ opening: Opening | null }>(
        client.GET("/api/projects/{id}/opening", {
          params: { path: { id: project?.id ?? 0 }, query: { element } },
        }),
      ),
  });

/** The materials and the steps of an element as its file has them. */
export const useInFile = (project: Project | undefined, element: string, wanted: boolean) =>
  useQuery({
    enabled: wanted && project !== undefined,
    queryKey: [...keys.project(project?.id ?? 0), "in file", element, project?.revision],
    queryFn: () =>
      unwrap<InFile>(
        client.GET("/api/projects/{id}/in-file", {
          params: { path: { id: project?.id ?? 0 }, query: { element } },
        }),
      ),
  });

/** Where what is drawn in a drawing lies in the model. */
export const planeOf = (project: number, spec: { cut: Cut; style: Style }) =>
  unwrap<Plane>(
    client.POST("/api/projects/{id}/plane", {
      params: { path: { id: project } },
      body: { cut: spec.cut, style: spec.style },
    }),
  );

/** The corrections of a project, and what became of each. */
export const useCorrections = (project: number) =>
  useQuery({
    queryKey: [...keys.project(project), "corrections"],
    queryFn: () =>
      unwrap<CorrectionState[]>(
        client.GET("/api/projects/{id}/corrections", { params: { path: { id: project } } }),
      ),
  });

/** An element that a correction is of (GlobalId), by the name under which it is sent; none where it is gone. */
export async function correctedElement(project: number, topic: string): Promise<string | undefined> {
  const all = await unwrap<CorrectionState[]>(
    client.GET("/api/projects/{id}/corrections", { params: { path: { id: project } } }),
  );
  return all.find((one) => one.correction.topic === topic)?.where || undefined;
}

/** What layers are corrected of: of single elements (GlobalIds), or, where there are none, of all of a build-up. */
export type LayersOf = { elements: readonly string[]; build_up: string };
export type WantedLayers = Pick<LayersCorrection, "layers" | "stays" | "reason">;

/** The corrections of a project with other layers of something; null: as its file has them. */
export function withLayers(project: Project, of: LayersOf, wanted: WantedLayers | null): Correction[] {
  const others = project.corrections.filter(
    (one) =>
      !("layers" in one) ||
      (of.elements.length > 0 ? !of.elements.includes(one.element ?? "") : one.build_up !== of.build_up),
  );
  if (!wanted) return others;
  const said = { ...wanted, instead_of: [], ...NOW };
  const made =
    of.elements.length > 0
      ? of.elements.map((element) => ({ ...said, element, build_up: "" }))
      : [{ ...said, element: "", build_up: of.build_up }];
  return [...others, ...made];
}

/** Correct the layers of something; null: they are as its file has them again. */
export const correctLayers = (project: Project, of: LayersOf, wanted: WantedLayers | null) =>
  saveDrawn(project, { corrections: withLayers(project, of, wanted) });

/** What of a correction is not said by whoever makes it now: who that is, and what others know of it. */
export const NOW = { author: "", topic: "", asked: "", answer: null } as const;

/** Say that corrections were sent to those whose model it is, today. */
export function sayAsked(project: Project, those: readonly Correction[]) {
  const asked = new Date().toISOString().slice(0, 10);
  const topics = new Set(those.map((one) => one.topic));
  if (those.every((one) => one.asked === asked)) return;
  return saveDrawn(project, {
    corrections: project.corrections.map((one) => (topics.has(one.topic) ? { ...one, asked } : one)),
  });
}

/** Where the corrections that the file does not have yet are read as topics. */
export const topicsAt = (project: number, version: "2.1" | "3.0", only: readonly string[]) =>
  `/api/projects/${project}/corrections/topics?version=${version}&only=${only.join(",")}`;

/** Where the picture of a correction is, of the model and the corrections as they are now. */
export const pictureAt = (project: Project, { topic }: Correction) =>
  `/api/projects/${project.id}/corrections/picture?topic=${topic}&of=${project.version}`;

/** Save the files of the model with corrections in them; where some come out otherwise, only when told to. */
export async function saveCorrectedFiles(project: number, only: readonly string[], anyway = false) {
  try {
    const asked = `anyway=${anyway}&only=${only.join(",")}`;
    const answer = await fetched(`/api/projects/${project}/corrections/files?${asked}`);
    const named = /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get("Content-Disposition") ?? "");
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await answer.blob());
    link.download = decodeURIComponent(named?.[1] ?? "corrected.ifc");
    link.click();
    URL.revokeObjectURL(link.href);
  } catch (error) {
    if (error instanceof Refusal && error.problem.field === "anyway")
      toast(error.message, {
        action: { label: "Write them so", onClick: () => saveCorrectedFiles(project, only, true) },
        duration: 20_000,
      });
    else report(error);
  }
}

/** Read what was answered to corrections, from a file of topics. */
export async function readAnswers(project: number, file: File): Promise<Answers | undefined> {
  const form = new FormData();
  form.append("file", file);
  try {
    const answer = await fetched(`/api/projects/${project}/corrections/answers`, {
      method: "POST",
      body: form,
    });
    queryClient.invalidateQueries({ queryKey: keys.project(project) });
    return (await answer.json()) as Answers;
  } catch (error) {
    report(error);
  }
}

/** The corrections of a project with one in the place of another. */
export const withCorrection = (project: Project, before: Correction | null, wanted: Correction | null) => [
  ...project.corrections.filter((one) => JSON.stringify(one) !== JSON.stringify(before)),
  ...(wanted ? [wanted] : []),
];

/** A drawing as it would be with other corrections. */
export const useTried = (
  drawing: { id: number; view: string } | undefined,
  corrections: readonly Correction[] | null,
) =>
  useQuery<View>({
    queryKey: ["tried", drawing?.id, drawing?.view, JSON.stringify(corrections)],
    enabled: drawing !== undefined && corrections !== null,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
    placeholderData: (before, query) => (query?.queryKey[1] === drawing?.id ? before : undefined),
    queryFn: ({ signal }) => triedView(drawing?.id ?? 0, corrections ?? [], false, signal),
  });

/** A drawing as it would be with other corrections; `inHand`: what must be seen of it while a face is dragged. */
export async function triedView(
  drawing: number,
  corrections: readonly Correction[],
  inHand: boolean,
  signal?: AbortSignal,
): Promise<View> {
  const response = await fetched(`/api/drawings/${drawing}/tried`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ corrections, in_hand: inHand }),
    signal,
  });
  return parseView(await response.arrayBuffer());
}

/** Put a correction in the place of another one; null: none was, or shall be. */
export function correct(project: Project, before: Correction | null, wanted: Correction | null) {
  return saveDrawn(project, { corrections: withCorrection(project, before, wanted) });
}
