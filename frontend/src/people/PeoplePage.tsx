import { X } from "lucide-react";
import { useState } from "react";
import type { People, Project, Role } from "../api/client";
import { giveRole, invite, takeBackInvitation, takeOut, usePeople, useSession } from "../api/people";
import { AuditList } from "./AuditList";
import { LinksPart } from "./LinksPart";
import { addressOf, day, ROLE_NAMES, ROLES } from "./people-words";
import { Told } from "./Told";

/** Who belongs to a project and may do what; who is invited; links for others; what was done to rights. */
export function PeoplePage({ project }: { project: Project }) {
  const { data: session } = useSession();
  const { data: people } = usePeople(project.id, session?.signing_in === true);
  if (!session?.signing_in)
    return (
      <main className="p-8">
        <h1 className="text-xl font-semibold">People</h1>
        <p className="pt-2">Nobody signs in here: this installation is served to its own machine alone.</p>
      </main>
    );
  if (!people) return null;
  const owns = people.mine === "owner" || session.runs;
  return (
    <main className="mx-auto flex h-full w-full max-w-4xl flex-col gap-6 overflow-y-auto p-8">
      <h1 className="text-xl font-semibold">People in {project.name}</h1>
      <Members project={project.id} people={people} owns={owns} me={session.account ?? 0} />
      {owns && <Inviting project={project.id} people={people} />}
      {people.mine !== "reviewer" && people.mine !== "" && <LinksPart project={project.id} />}
      {people.mine === "owner" && <AuditList project={project.id} />}
    </main>
  );
}

type Props = { project: number; people: People };

function Members({ project, people, owns, me }: Props & { owns: boolean; me: number }) {
  return (
    <table className="w-full text-sm" aria-label="Members">
      <thead>
        <tr className="border-b border-base-content/40 text-left text-xs">
          <th scope="col" className="py-1 font-semibold">
            Name
          </th>
          <th scope="col" className="py-1 font-semibold">
            Mail address
          </th>
          <th scope="col" className="w-72 py-1 font-semibold">
            Role
          </th>
          <th scope="col" className="w-32">
            <span className="sr-only">Take out</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {people.members.map((one) => (
          <tr key={one.account} className="border-b border-base-300">
            <td className="py-1">
              {one.name}
              {one.account === me && " (you)"}
              {one.closed && " (account closed)"}
            </td>
            <td>{one.mail}</td>
            <td>
              {owns ? (
                <select
                  className="select select-xs w-32"
                  aria-label={`Role of ${one.name}`}
                  value={one.role}
                  onChange={(event) => giveRole(project, one.account, event.target.value as Role)}
                >
                  {ROLE_NAMES.map(([role, name]) => (
                    <option key={role} value={role}>
                      {name}
                    </option>
                  ))}
                </select>
              ) : (
                ROLES[one.role].name
              )}
              <span className="block text-xs opacity-80">may {ROLES[one.role].may}</span>
            </td>
            <td className="text-right">
              {owns && (
                <button
                  type="button"
                  className="btn btn-xs"
                  aria-label={`Take out ${one.name}`}
                  onClick={() => takeOut(project, one.account)}
                >
                  Take out
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Inviting({ project, people }: Props) {
  const [mail, setMail] = useState("");
  const [role, setRole] = useState<Role>("reviewer");
  const [made, setMade] = useState<{ mail: string; token: string } | null>(null);
  const send = async () => {
    const done = await invite(project, mail, role);
    if (!done) return;
    setMade(done.token ? { mail, token: done.token } : null);
    setMail("");
  };
  return (
    <section aria-label="Invite" className="flex flex-col gap-2">
      <h2 className="font-semibold">Invite somebody</h2>
      <form
        className="flex flex-wrap items-end gap-2 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <label className="flex flex-col gap-1">
          Mail address
          <input
            type="email"
            required
            className="input input-sm w-72"
            value={mail}
            maxLength={200}
            onChange={(event) => setMail(event.target.value)}
          />
        </label>
        <label className="flex flex-col gap-1">
          Role
          <select
            className="select select-sm w-36"
            value={role}
            onChange={(event) => setRole(event.target.value as Role)}
          >
            {ROLE_NAMES.map(([value, name]) => (
              <option key={value} value={value}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="btn btn-primary btn-sm">
          Invite
        </button>
        <span className="text-xs opacity-80">may {ROLES[role].may}</span>
      </form>
      {made && (
        <Told
          label={`Send this address to ${made.mail}. It works once, for seven days, and is shown only now.`}
          text={addressOf("invitation", made.token)}
        />
      )}
      <ul aria-label="Invited" className="flex flex-col gap-1 text-sm">
        {people.invited.map((one) => (
          <li key={one.id} className="flex items-center gap-2">
            <span>
              {one.mail} is invited{one.role && ` as ${ROLES[one.role].name.toLowerCase()}`} until{" "}
              {day(one.ends_at)}
              {one.by && `, by ${one.by}`}
            </span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Take back: ${one.mail}`}
              onClick={() => takeBackInvitation(project, one.id)}
            >
              <X size={12} /> Take back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
