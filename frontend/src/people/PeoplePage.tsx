import type { People, Project, Role } from "../api/client";
import { giveRole, invite, takeBackInvitation, takeOut, usePeople, useSession } from "../api/people";
import { AuditList } from "./AuditList";
import { Inviting } from "./Inviting";
import { LinksPart } from "./LinksPart";
import { ROLE_NAMES, ROLES } from "./people-words";

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
      {owns && (
        <Inviting
          roles
          invited={people.invited}
          onInvite={(mail, role) => invite(project.id, mail, role)}
          onTakeBack={(id) => takeBackInvitation(project.id, id)}
        />
      )}
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
