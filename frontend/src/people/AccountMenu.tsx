import { UserRound } from "lucide-react";
import { useRef } from "react";
import { Link } from "react-router";
import type { Session } from "../api/client";
import { signOut } from "../api/people";

/** Who is signed in here, and what there is to do about people. */
export function AccountMenu({ session, project }: { session: Session; project?: number }) {
  const menu = useRef<HTMLDetailsElement>(null);
  const shut = () => menu.current?.removeAttribute("open");
  const item = "block w-full rounded px-2 py-1 text-left hover:bg-base-200";
  return (
    <details ref={menu} className="relative">
      <summary
        className="btn btn-ghost btn-xs list-none"
        aria-label={`You are ${session.name}`}
        title={`You are ${session.name}`}
      >
        <UserRound size={15} />
      </summary>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: what is in it is reached by keys itself */}
      <div
        className="absolute top-8 right-0 z-30 flex w-60 flex-col rounded border border-base-300 bg-base-100 p-1.5 text-sm shadow-lg"
        onClick={shut}
      >
        <p className="border-b border-base-300 px-2 py-1 font-semibold">{session.name}</p>
        <Link className={item} to="/account">
          Your account
        </Link>
        {project !== undefined && (
          <Link className={item} to={`/projects/${project}/people`}>
            People in this project
          </Link>
        )}
        {session.runs && (
          <Link className={item} to="/accounts">
            All accounts
          </Link>
        )}
        <button type="button" className={`${item} cursor-pointer`} onClick={signOut}>
          Sign out
        </button>
      </div>
    </details>
  );
}
