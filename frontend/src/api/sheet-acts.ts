import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import {
  type Arranged,
  client,
  type Documented,
  type Guide,
  type Project,
  type Register,
  type Renumbering,
  type Sheet,
  unwrap,
} from "./client";
import { patchProject } from "./project";
import { keys, queryClient, report, useSheetAct } from "./queries";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type SheetNew = Partial<Schemas["SheetNew"]>;
type SheetChange = Partial<Omit<Schemas["SheetEdit"], "version">>;
export type PlacementChange = Partial<Omit<Schemas["PlacementEdit"], "version">>;
export type Move = Schemas["Move"];
type StarterChoice = Schemas["StarterChoice"];
type Placed = { sheet: number; drawing: number; x?: number; y?: number; area?: string };

type Versioned = { id: number; version: number };

/** A sheet as it is known now: what is done to it in quick succession is done to what the act before left. */
const sheetNow = (project: number, sheet: Versioned): Versioned =>
  queryClient.getQueryData<Sheet[]>(keys.sheets(project))?.find((one) => one.id === sheet.id) ?? sheet;

const placementNow = (project: number, placement: Versioned): Versioned =>
  queryClient
    .getQueryData<Sheet[]>(keys.sheets(project))
    ?.flatMap((one) => one.placements)
    .find((one) => one.id === placement.id) ?? placement;

/** Everything that is done to sheets and placements. */
export function useSheetActs(project: number) {
  const add = useSheetAct(project, (input: SheetNew) =>
    unwrap<Sheet>(
      client.POST("/api/projects/{id}/sheets", {
        params: { path: { id: project } },
        body: {
          number: "",
          title: "",
          size: "A1",
          design: "corner-block",
          folder: "",
          for_drawing: null,
          ...input,
        },
      }),
    ),
  );
  const edit = useSheetAct(project, ({ sheet, change }: { sheet: Sheet; change: SheetChange }) =>
    unwrap<Sheet>(
      client.PATCH("/api/sheets/{id}", {
        params: { path: { id: sheet.id } },
        body: {
          version: sheetNow(project, sheet).version,
          number: null,
          title: null,
          size: null,
          design: null,
          folder: null,
          fields: null,
          ...change,
        },
      }),
    ),
  );
  const remove = useSheetAct(project, async (sheet: Sheet) => {
    await unwrap(client.DELETE("/api/sheets/{id}", { params: { path: { id: sheet.id } } }));
    return undefined;
  });
  const place = useSheetAct(project, ({ sheet, drawing, x, y, area }: Placed) =>
    unwrap<Sheet>(
      client.POST("/api/sheets/{id}/placements", {
        params: { path: { id: sheet } },
        body: { drawing_id: drawing, x: x ?? null, y: y ?? null, area: area ?? null },
      }),
    ),
  );
  const change = useSheetAct(
    project,
    ({ placement, change }: { placement: { id: number; version: number }; change: PlacementChange }) =>
      unwrap<Sheet>(
        client.PATCH("/api/placements/{id}", {
          params: { path: { id: placement.id } },
          body: {
            version: placementNow(project, placement).version,
            drawing_id: null,
            x: null,
            y: null,
            number: null,
            home: null,
            trim: null,
            title: null,
            stack: null,
            area: null,
            ...change,
          },
        }),
      ),
  );
  const move = useSheetAct(project, ({ sheet, moves }: { sheet: number; moves: Move[] }) =>
    unwrap<Sheet>(
      client.POST("/api/sheets/{id}/move", {
        params: { path: { id: sheet } },
        body: {
          moves: moves.map((one) => ({ ...one, version: placementNow(project, one).version })),
        },
      }),
    ),
  );
  const take = useSheetAct(project, async (placement: number) => {
    await unwrap(client.DELETE("/api/placements/{id}", { params: { path: { id: placement } } }));
    return undefined;
  });
  return { add, edit, remove, place, change, move, take };
}

type Arrangement = {
  sheet: number;
  drawings: number[];
  all: boolean;
  numbers: boolean;
  smallest: boolean;
  largest: boolean;
};

/** Arrange drawings on a sheet; the answer says what found no room. */
export function useArrange(project: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ sheet, ...body }: Arrangement) =>
      unwrap<Arranged>(client.POST("/api/sheets/{id}/arrange", { params: { path: { id: sheet } }, body })),
    onSuccess: ({ sheet }) =>
      cache.setQueryData<Sheet[]>(keys.sheets(project), (list) =>
        list?.map((s) => (s.id === sheet.id ? sheet : s)),
      ),
    onError: report,
  });
}

/** What the drawings of a sheet can be brought level or in line by. */
export const useGuides = (sheet: Sheet) =>
  useQuery({
    queryKey: ["guides", sheet.id, sheet.picture],
    placeholderData: (before: Guide[] | undefined) => before,
    queryFn: () =>
      unwrap<Guide[]>(client.GET("/api/sheets/{id}/guides", { params: { path: { id: sheet.id } } })),
  });

/** Annotate drawings, put them on sheets and enter these in the register, in one act. */
export function useDocument(project: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (input: { template: string; drawings: number[]; starter?: StarterChoice | null }) =>
      unwrap<Documented>(
        client.POST("/api/projects/{id}/document", {
          params: { path: { id: project } },
          body: { new: [], title: "", starter: null, ...input },
        }),
      ),
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.project(project) }),
    onError: report,
  });
}

const FEW = 3; // things that are told one by one

/** Say which drawings found no room on a sheet, and which sets no place. */
export function sayWhatIsLeft(done: Documented) {
  const said = [...done.left_over.map((l) => `${l.title} ${l.says}.`), ...done.findings];
  if (said.length <= FEW) for (const one of said) toast(one, { duration: 8000 });
  else
    toast(`${said.length} things to look at`, {
      description: said.join("\n"),
      descriptionClassName: "whitespace-pre-line",
      duration: Number.POSITIVE_INFINITY,
      closeButton: true,
    });
}

/** What numbers sheets would get, in this order; or giving them these. */
export const renumber = (project: number, sheets: number[], start: number, apply: boolean) =>
  unwrap<Renumbering>(
    client.POST("/api/projects/{id}/renumber", {
      params: { path: { id: project } },
      body: { sheets, start, apply },
    }),
  );

export function useReorder(project: number) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { folder: string; sheets: number[] }) =>
      unwrap<Sheet[]>(
        client.POST("/api/projects/{id}/order-of-sheets", { params: { path: { id: project } }, body }),
      ),
    onSuccess: (sheets) => cache.setQueryData(keys.sheets(project), sheets),
    onError: report,
  });
}

type Kept = Partial<Pick<Project, "sheet_register" | "templates">>;

function useSaveOfProject<T>(project: Project, kept: (value: T) => Kept) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (value: T) => patchProject(project, kept(value)),
    onSuccess: (saved) => cache.setQueryData(keys.project(project.id), saved),
    onError: report,
  });
}

/** Save the folders and the pattern of numbers of a project. */
export const useSaveRegister = (project: Project) =>
  useSaveOfProject(project, (sheet_register: Register) => ({ sheet_register }));

/** Save the templates of a project. */
export const useSaveTemplates = (project: Project) =>
  useSaveOfProject(project, (templates: Project["templates"]) => ({ templates }));
