import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { client, type ModelImport, unwrap } from "../api/client";
import { report } from "../api/queries";

const UNDER_WAY = ["waiting", "reading"];

/** Says of files that were sent from here when all of them are read, with a way into the project that they became; the
 * first of them leads. */
export function useRead(imports: readonly ModelImport[] | undefined): (sent: ModelImport[]) => void {
  const [waited, setWaited] = useState<ModelImport[][]>([]);
  const navigate = useNavigate();
  useEffect(() => {
    const busy = new Set(imports?.filter((row) => UNDER_WAY.includes(row.state)).map((row) => row.id));
    const done = imports ? waited.filter((sent) => !sent.some((row) => busy.has(row.id))) : [];
    if (done.length === 0) return;
    setWaited(waited.filter((sent) => !done.includes(sent)));
    for (const sent of done)
      unwrap<ModelImport>(client.GET("/api/imports/{id}", { params: { path: { id: sent[0]?.id ?? 0 } } }))
        .then(({ project_id, file_name, state }) => {
          if (project_id !== null)
            toast.success(`${file_name} is read`, {
              action: { label: "Open it", onClick: () => navigate(`/projects/${project_id}`) },
              duration: 20_000,
            });
          else if (UNDER_WAY.includes(state)) setWaited((before) => [...before, sent]); // the list was older
        })
        .catch(report);
  }, [imports, waited, navigate]);
  return (sent) => setWaited((before) => [...before, sent]);
}
