import { useAudit } from "../api/people";
import { day, deviceWords } from "./people-words";

/** Who did what to whose rights, the newest first; of a project, or (null) of the installation. */
export function AuditList({ project }: { project: number | null }) {
  const { data = [] } = useAudit(project, true);
  return (
    <section aria-label="What was done" className="flex flex-col gap-1">
      <h2 className="font-semibold">What was done</h2>
      <p className="text-xs opacity-80">This list is only added to; nobody can change it.</p>
      <table className="w-full text-sm" aria-label="What was done, the newest first">
        <thead>
          <tr className="border-b border-base-content/40 text-left text-xs">
            {["When", "Who", "What", "Of", "From"].map((head) => (
              <th key={head} scope="col" className="py-1 pr-3 font-semibold">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {data.map((one) => (
            <tr key={`${one.at} ${one.who} ${one.act} ${one.of}`} className="border-b border-base-300">
              <td className="figures py-0.5 pr-3 text-xs whitespace-nowrap">{day(one.at)}</td>
              <td className="pr-3">{one.who}</td>
              <td className="pr-3">{one.act}</td>
              <td className="max-w-52 truncate pr-3" title={one.of}>
                {one.of && (/^Mozilla/.test(one.of) ? deviceWords(one.of) : one.of)}
              </td>
              <td className="figures text-xs">{one.address}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
