import { Moon, Redo2, Sun, Undo2 } from "lucide-react";
import { useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link, NavLink, Outlet, useParams } from "react-router";
import { Toaster, toast } from "sonner";
import { client, type History, unwrap } from "../api/client";
import { useServerEvents } from "../api/events/events";
import { usePeople, useSession } from "../api/people";
import { report } from "../api/queries";
import { MaterialsButton } from "../materials/MaterialsPanel";
import { AccountMenu } from "../people/AccountMenu";
import { NoticesButton } from "../people/NoticesButton";
import { RemarksButton } from "../remarks/RemarksPanel";
import { RevisionsButton } from "../revisions/RevisionsPanel";
import { CommandPalette } from "./CommandPalette";
import { useCommand } from "./commands";
import { HistoryList } from "./HistoryList";
import { People } from "./People";
import { ProjectSettings } from "./ProjectSettings";
import { ShortcutSheet } from "./ShortcutSheet";
import { useTheme } from "./theme";

/** What frames every page: mark, project, benches, history, palette. */
export function Shell() {
  const { theme, turn } = useTheme();
  const { project } = useParams();
  const id = project ? Number(project) : undefined;
  useServerEvents(id ?? null);
  const { data: session } = useSession();
  const { data: people } = usePeople(id ?? 0, id !== undefined && session?.signing_in === true);
  const [palette, setPalette] = useState(false);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);

  const replay = async (way: "undo" | "redo") => {
    if (!id) return;
    try {
      const path = { params: { path: { id } } };
      const done = await unwrap<History>(
        way === "undo"
          ? client.POST("/api/projects/{id}/undo", path)
          : client.POST("/api/projects/{id}/redo", path),
      );
      toast(done.label ? `${way === "undo" ? "Undone" : "Done again"}: ${done.label}` : `Nothing to ${way}`, {
        id: "history",
      });
    } catch (error) {
      report(error);
    }
  };
  const inProject = id !== undefined;
  useCommand({
    name: "All commands",
    group: "Help",
    keys: "mod+k",
    inFields: true,
    run: () => setPalette(!palette),
  });
  useCommand({
    name: "Undo",
    group: "Project",
    keys: "mod+z",
    enabled: inProject,
    run: () => replay("undo"),
  });
  useCommand({
    name: "Redo",
    group: "Project",
    keys: "mod+shift+z",
    enabled: inProject,
    run: () => replay("redo"),
  });
  useHotkeys("mod+y", () => replay("redo"), { preventDefault: true }, [id]);
  useCommand({ name: "Day or night colours", group: "Help", run: turn });

  return (
    <div className="flex h-full flex-col bg-base-100 text-base-content">
      <header className="flex h-10 shrink-0 items-center gap-3 border-b border-base-300 bg-base-200 px-3">
        <Link
          to="/projects"
          className="flex items-center gap-2 font-semibold"
          aria-label="Edge Slice: all projects"
        >
          <img src="/mark.svg" alt="" className="size-6" /> Edge Slice
        </Link>
        {id && <ProjectSettings id={id} />}
        {id && (
          <nav aria-label="Benches" className="flex h-full">
            <Bench to={`/projects/${id}`} end>
              Drawings
            </Bench>
            <Bench to={`/projects/${id}/model`}>Model</Bench>
            <Bench to={`/projects/${id}/sheets`}>Sheets</Bench>
            <Bench to={`/projects/${id}/tables`}>Tables</Bench>
            <Bench to={`/projects/${id}/checks`}>Checks</Bench>
          </nav>
        )}
        <span className="flex-1" />
        {people?.mine === "reviewer" && (
          <span
            className="badge badge-sm badge-outline"
            title="Your role in this project: what you change is not kept"
          >
            looking
          </span>
        )}
        {id && (
          <>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label="Undo"
              title="Undo (Ctrl+Z)"
              onClick={() => replay("undo")}
            >
              <Undo2 size={15} />
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label="Redo"
              title="Redo (Ctrl+Shift+Z)"
              onClick={() => replay("redo")}
            >
              <Redo2 size={15} />
            </button>
          </>
        )}
        {id && <MaterialsButton key={`materials ${id}`} project={id} />}
        {id && <RemarksButton key={`remarks ${id}`} project={id} />}
        {id && <RevisionsButton key={`revisions ${id}`} project={id} />}
        {id && <HistoryList key={`history ${id}`} project={id} />}
        {id && <People project={id} />}
        {session?.signing_in && <NoticesButton />}
        {session?.signing_in && <AccountMenu session={session} project={id} />}
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => setPalette(true)}>
          Commands <kbd className="kbd kbd-xs">Ctrl K</kbd>
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={theme === "film-day" ? "Night colours" : "Day colours"}
          onClick={turn}
        >
          {theme === "film-day" ? <Moon size={15} /> : <Sun size={15} />}
        </button>
      </header>
      <div className="min-h-0 flex-1">
        <Outlet />
      </div>
      <CommandPalette open={palette} onClose={() => setPalette(false)} project={id} />
      <ShortcutSheet />
      <Toaster
        position="bottom-center"
        theme={theme === "film-day" ? "light" : "dark"}
        style={{ fontFamily: "inherit" }}
        richColors
      />
    </div>
  );
}

function Bench({ to, end, children }: { to: string; end?: boolean; children: string }) {
  return (
    <NavLink
      to={to}
      end={end}
      className={({ isActive }) =>
        `flex items-center border-b-2 px-3 ${isActive ? "border-primary font-semibold" : "border-transparent opacity-80 hover:opacity-100"}`
      }
    >
      {children}
    </NavLink>
  );
}
