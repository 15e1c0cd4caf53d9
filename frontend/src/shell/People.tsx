import { UserRound } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { usePerson } from "../api/events/person";
import { initials, usePresence } from "../api/events/presence";
import { useSession } from "../api/people";
import { useDrawings } from "../api/queries";

/** Who else is in the project and on which drawing; and the name by which the others see this browser. */
export function People({ project }: { project: number }) {
  const others = usePresence((s) => s.others);
  const { name, setName } = usePerson();
  const { data: drawings = [] } = useDrawings(project);
  const navigate = useNavigate();
  const { data: session } = useSession();
  return (
    <div className="flex items-center gap-1">
      {others.slice(0, 6).map((other) => {
        const title = drawings.find((d) => d.id === other.drawing)?.title;
        const said = `${other.name || "Somebody"}${title ? ` is on ${title}` : " is here"}`;
        return (
          <button
            key={other.window}
            type="button"
            className="grid size-6 cursor-pointer place-items-center rounded-full bg-secondary text-[10px] font-semibold text-secondary-content"
            aria-label={said}
            title={title ? `${said}; click to go there` : said}
            onClick={() => other.drawing && navigate(`/projects/${project}?drawing=${other.drawing}`)}
          >
            {initials(other.name)}
          </button>
        );
      })}
      {!session?.signing_in && (
        <details className="relative">
          <summary
            className="btn btn-ghost btn-xs btn-square list-none"
            aria-label={name ? `You are ${name}` : "Say who you are"}
            title={name ? `You are ${name}` : "Say who you are"}
          >
            <UserRound size={15} />
          </summary>
          <NameField key={name} name={name} onName={setName} />
        </details>
      )}
    </div>
  );
}

function NameField({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [text, setText] = useState(name);
  return (
    <label className="absolute top-8 right-0 z-30 flex w-60 flex-col gap-1 rounded border border-base-300 bg-base-100 p-3 text-sm shadow-lg">
      The name that others in the project see
      <input
        className="input input-xs w-full"
        value={text}
        maxLength={40}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => onName(text)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          onName(text);
          event.currentTarget.closest("details")?.removeAttribute("open");
        }}
      />
    </label>
  );
}
