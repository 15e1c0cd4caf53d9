import { Undo2 } from "lucide-react";
import { Link } from "react-router";
import type { Materials, Project } from "../api/client";
import { sayOf } from "../api/materials";
import { words } from "./places";

/** What is said of single elements and build-ups, each with a way back; also what the model has no place for any more. */
export function SaidHere({ project, here }: { project: Project; here: Materials["here"] }) {
  const placed = here.filter(({ said }) => said.element || said.build_up);
  if (placed.length === 0) return null;
  return (
    <section aria-label="In single places">
      <h3 className="pt-2 font-semibold">In single places</h3>
      <ul>
        {placed.map(({ said, name, there }) => {
          const where = said.build_up ? `all of “${said.build_up}”` : name || "an element that is gone";
          return (
            <li
              key={`${said.element} ${said.build_up} ${said.material}`}
              className="flex items-center gap-2 border-t border-base-300 py-1"
            >
              <span className="min-w-0 flex-1 wrap-anywhere">
                {said.material ? `“${said.material}”` : "What has no material"} in {where}: {words(said)}
                {!there && <span className="text-warning"> ! not in the model any more</span>}
              </span>
              {said.element && there && (
                <Link
                  className="link"
                  to={`/projects/${project.id}/model?element=${encodeURIComponent(said.element)}`}
                >
                  where
                </Link>
              )}
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`As the file says in ${where}`}
                title="As the file says"
                onClick={() => sayOf(project, [said], null)}
              >
                <Undo2 size={11} />
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
