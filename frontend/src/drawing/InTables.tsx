import { Link } from "react-router";
import { useTablesWith } from "../api/tables";

/** The tables that have a row of something, as ways to it. */
export function InTables({ project, target }: { project: number; target: string }) {
  const { data: tables = [] } = useTablesWith(project, target);
  if (tables.length === 0) return null;
  return (
    <p className="text-xs">
      In the tables{" "}
      {tables.map((t, n) => (
        <span key={t.table}>
          {n > 0 && ", "}
          <Link
            className="link"
            to={`/projects/${project}/tables/${t.table}?row=${encodeURIComponent(target)}`}
          >
            {t.name}
          </Link>
        </span>
      ))}
    </p>
  );
}
