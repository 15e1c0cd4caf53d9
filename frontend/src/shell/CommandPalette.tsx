import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import type { Drawing, Element, Project, Sheet } from "../api/client";
import { client, unwrap } from "../api/client";
import { elementsOf } from "../api/elements";
import { keys, queryClient, report } from "../api/queries";
import { useBench } from "../desk/drawings-state";
import { keysText, useCommands } from "./commands";

type Props = {
  open: boolean;
  onClose: () => void;
  project: number | undefined;
};

const LEAST_WORDS = 2; // letters that elements are looked for by

/** Elements of the model whose name, kind or storey has what is typed. */
function useElements(project: number | undefined, typed: string): Element[] {
  const words = typed.trim();
  const { data } = useQuery({
    queryKey: ["elements named", project, words],
    enabled: project !== undefined && words.length >= LEAST_WORDS,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before: Element[] | undefined) => before,
    queryFn: () =>
      unwrap<Element[]>(
        client.GET("/api/projects/{id}/elements", {
          params: { path: { id: project ?? 0 }, query: { words } },
        }),
      ),
  });
  return words.length >= LEAST_WORDS ? (data ?? []) : [];
}

/** Go to a plan with one of its elements picked. */
async function pickElement(
  project: number,
  plan: Drawing,
  guid: string,
  navigate: (to: string) => void | Promise<void>,
) {
  useBench.getState().choose(project, plan.id);
  await navigate(`/projects/${project}`);
  try {
    const found = await elementsOf(project, [guid], plan);
    useBench.getState().setPicked({ drawing: plan.id, found, at: 0, many: false });
  } catch (error) {
    report(error);
  }
}

/** Put a drawing on a sheet. */
async function placeOn(project: number, sheet: number, drawing: number) {
  try {
    const body = { drawing_id: drawing, x: null, y: null, area: null };
    await unwrap(client.POST("/api/sheets/{id}/placements", { params: { path: { id: sheet } }, body }));
    await queryClient.invalidateQueries({ queryKey: keys.sheets(project) });
  } catch (error) {
    report(error);
  }
}

/** Every command by name. */
export function CommandPalette({ open, onClose, project }: Props) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const commands = useCommands((s) => s.commands);
  const [words, setWords] = useState("");
  const found = useElements(project, open ? words : "");
  if (!open) return null;
  const drawings = project ? (queryClient.getQueryData<Drawing[]>(keys.drawings(project)) ?? []) : [];
  const sheets = project ? (queryClient.getQueryData<Sheet[]>(keys.sheets(project)) ?? []) : [];
  const [, seen] = /\/sheets\/(\d+)/.exec(pathname) ?? [];
  const onSheet = words ? sheets.find((s) => s.id === Number(seen)) : undefined;
  const facts = project ? queryClient.getQueryData<Project>(keys.project(project))?.facts : undefined;
  const rooms = (facts?.spaces ?? []).flatMap((room) => {
    const storey = facts?.storeys[room.storey]?.guid;
    const plan = drawings.find((d) => d.cut.kind === "plan" && d.cut.storey === storey);
    return plan ? [{ room, plan }] : [];
  });
  const run = (act: () => void) => () => {
    onClose();
    act();
  };
  const item = "flex cursor-pointer items-center gap-2 rounded px-2 py-1.5 data-[selected=true]:bg-base-300";
  return (
    <Command.Dialog
      open
      onOpenChange={(now) => !now && onClose()}
      label="Commands"
      className="w-[32rem] overflow-hidden rounded border border-base-300 bg-base-100 shadow-xl"
      overlayClassName="fixed inset-0 z-40 bg-black/30"
      contentClassName="fixed top-24 left-1/2 z-50 -translate-x-1/2 text-base-content"
    >
      <Command.Input
        autoFocus
        placeholder="What do you want to do?"
        value={words}
        onValueChange={setWords}
        className="w-full border-b border-base-300 bg-transparent px-3 py-2 outline-none"
      />
      <Command.List className="max-h-80 overflow-y-auto p-1">
        <Command.Empty className="px-3 py-4 opacity-85">No command of this name.</Command.Empty>
        {commands.map((c) => (
          <Command.Item
            key={`${c.group} ${c.name}`}
            value={`${c.name} ${c.group}`}
            className={item}
            onSelect={run(c.run)}
          >
            {c.name} {c.keys && <kbd className="kbd kbd-xs ml-auto">{keysText(c.keys)}</kbd>}
          </Command.Item>
        ))}
        {project && (
          <>
            <Command.Item className={item} onSelect={run(() => navigate(`/projects/${project}/standards`))}>
              Drawing standards: hatches, materials, pens
            </Command.Item>
            {drawings.map((d) => (
              <Command.Item
                key={`d${d.id}`}
                value={`go to ${d.title} ${d.id}`}
                className={item}
                onSelect={run(() => navigate(`/projects/${project}?drawing=${d.id}`))}
              >
                Go to {d.title}
              </Command.Item>
            ))}
            {onSheet &&
              drawings
                .filter((d) => !onSheet.placements.some((p) => p.drawing_id === d.id))
                .map((d) => (
                  <Command.Item
                    key={`p${d.id}`}
                    value={`place ${d.title} on this sheet ${d.id}`}
                    className={item}
                    onSelect={run(() => placeOn(project, onSheet.id, d.id))}
                  >
                    Place on {onSheet.number}: {d.title}
                  </Command.Item>
                ))}
            {rooms.map(({ room, plan }) => (
              <Command.Item
                key={`r${room.guid}`}
                value={`room ${room.number} ${room.name} ${room.guid}`}
                className={item}
                onSelect={run(() => navigate(`/projects/${project}?drawing=${plan.id}`))}
              >
                Room {room.number} {room.name}: go to {plan.title}
              </Command.Item>
            ))}
            {found.map((e) => {
              const storey = facts?.storeys.find((s) => s.name === e.storey)?.guid;
              const plan = drawings.find((d) => d.cut.kind === "plan" && d.cut.storey === storey);
              return (
                plan && (
                  <Command.Item
                    key={`e${e.guid}`}
                    value={`element ${e.name} ${e.kind} ${e.storey} ${e.guid}`}
                    className={item}
                    onSelect={run(() => pickElement(project, plan, e.guid, navigate))}
                  >
                    {e.name || e.kind} ({e.kind}, {e.storey}): pick it in {plan.title}
                  </Command.Item>
                )
              );
            })}
            {sheets.map((s) => (
              <Command.Item
                key={`s${s.id}`}
                value={`go to sheet ${s.number} ${s.title}`}
                className={item}
                onSelect={run(() => navigate(`/projects/${project}/sheets/${s.id}`))}
              >
                Go to sheet {s.number} {s.title}
              </Command.Item>
            ))}
          </>
        )}
        <Command.Item className={item} onSelect={run(() => navigate("/projects"))}>
          All projects
        </Command.Item>
      </Command.List>
    </Command.Dialog>
  );
}
