import { useQuery } from "@tanstack/react-query";
import {
  client,
  type Drawing,
  type DrawingRule,
  type DrawingRuleEdit,
  type Following,
  type OfficeRule,
  unwrap,
} from "./client";
import { keys, putDrawing, queryClient } from "./queries";

/** The rules for new drawings of a project. */
export const useDrawingRules = (project: number) =>
  useQuery({
    queryKey: keys.drawingRules(project),
    queryFn: () =>
      unwrap<DrawingRule[]>(
        client.GET("/api/projects/{id}/drawing-rules", { params: { path: { id: project } } }),
      ),
  });

/** The rules that the office keeps for all projects. */
export const useOfficeRules = () =>
  useQuery({
    queryKey: ["office rules"],
    staleTime: 0,
    queryFn: () => unwrap<OfficeRule[]>(client.GET("/api/office-rules")),
  });

export const keepForOffice = (rule: number) =>
  unwrap<OfficeRule>(client.POST("/api/drawing-rules/{id}/office", { params: { path: { id: rule } } }));

/** Let a project have a rule of the office, or what that says now. */
export const takeOfOffice = (project: number, rule: number) =>
  unwrap<DrawingRule>(
    client.POST("/api/projects/{id}/office-rules/{rule}", { params: { path: { id: project, rule } } }),
  );

/** The rules as they were read last. */
export const knownRules = (project: number): DrawingRule[] =>
  queryClient.getQueryData<DrawingRule[]>(keys.drawingRules(project)) ?? [];

/** A rule that says what a drawing shows, which then follows it. */
export const ruleOfDrawing = (project: number, name: string, drawing: number) =>
  unwrap<DrawingRule>(
    client.POST("/api/projects/{id}/drawing-rules", {
      params: { path: { id: project } },
      body: { name, drawing_id: drawing, rule: null },
    }),
  );

const edited = (rule: DrawingRule, change: Partial<DrawingRuleEdit>): DrawingRuleEdit => ({
  version: rule.version,
  name: null,
  drawing_id: null,
  cut: null,
  style: null,
  begins: null,
  ...change,
});

/** What a change of a rule would do to the drawings that follow it. */
export const followingOf = (rule: DrawingRule, change: Partial<DrawingRuleEdit>) =>
  unwrap<Following[]>(
    client.POST("/api/drawing-rules/{id}/follows", {
      params: { path: { id: rule.id } },
      body: edited(rule, change),
    }),
  );

export const editRule = (rule: DrawingRule, change: Partial<DrawingRuleEdit>) =>
  unwrap<DrawingRule>(
    client.PATCH("/api/drawing-rules/{id}", {
      params: { path: { id: rule.id } },
      body: edited(rule, change),
    }),
  );

export const deleteRule = (id: number) =>
  unwrap<undefined>(client.DELETE("/api/drawing-rules/{id}", { params: { path: { id } } }));

/** Let drawings follow a rule, or none where it is empty. */
export async function giveRule(project: number, to: number[], rule: string) {
  const given = await unwrap<Drawing[]>(
    client.POST("/api/projects/{id}/drawings/rule", {
      params: { path: { id: project } },
      body: { to, rule, keep: false },
    }),
  );
  for (const one of given) putDrawing(queryClient, project, one);
}

/** Let a drawing say again what its rule says, in one line or in all. */
export async function backToRule(project: number, drawing: Drawing, lines: string[] | null) {
  const back = await unwrap<Drawing>(
    client.POST("/api/drawings/{id}/rule/back", {
      params: { path: { id: drawing.id } },
      body: { version: drawing.version, lines },
    }),
  );
  putDrawing(queryClient, project, back);
}
