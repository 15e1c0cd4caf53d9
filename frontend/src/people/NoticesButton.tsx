import { Bell } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Notice } from "../api/client";
import { seeNotices, useNotices } from "../api/notices";
import { useRemarking } from "../remarks/pinning";
import { useCommand } from "../shell/commands";
import { SidePanel } from "../shell/SidePanel";
import { day } from "./people-words";

const DID: Record<Notice["what"], string> = {
  remark: "remarked",
  answer: "answered a remark",
  done: "took a remark as done",
  issue: "issued sheets",
};

/** The way to what concerns who is signed in, with how much of it is new. */
export function NoticesButton() {
  const { data: notices = [] } = useNotices();
  const [fresh, setFresh] = useState<number[] | null>(null);
  const unseen = notices.filter((one) => !one.seen).map((one) => one.id);
  const turn = () => {
    setFresh(fresh ? null : unseen); // what is new stays marked while the list is open
    if (!fresh && unseen.length > 0) void seeNotices(Math.max(...unseen));
  };
  useCommand({ name: "Notices", group: "Project", run: turn });
  const words = unseen.length > 0 ? `Notices, ${unseen.length} new` : "Notices";
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        aria-expanded={fresh !== null}
        aria-label={words}
        title={words}
        onClick={turn}
      >
        <Bell size={14} />
        {unseen.length > 0 && <span className="badge badge-primary badge-xs">{unseen.length}</span>}
      </button>
      {fresh && (
        <SidePanel label="Notices" title="Notices" wide="w-96" onClose={() => setFresh(null)}>
          {notices.length === 0 && (
            <p className="text-sm opacity-85">
              Nothing yet. Here stands what is remarked for you, what becomes of your remarks, and what is
              issued.
            </p>
          )}
          <ul aria-label="Notices" className="flex flex-col gap-2">
            {notices.map((one) => (
              <Line key={one.id} notice={one} fresh={fresh.includes(one.id) || !one.seen} />
            ))}
          </ul>
        </SidePanel>
      )}
    </>
  );
}

/** One notice; a click leads to what it is of. */
function Line({ notice, fresh }: { notice: Notice; fresh: boolean }) {
  const navigate = useNavigate();
  const go = () => {
    navigate(notice.issue === null ? `/projects/${notice.project}` : `/projects/${notice.project}/sheets`);
    if (notice.remark !== null) useRemarking.setState({ open: true, chosen: notice.remark, draft: null });
  };
  return (
    <li>
      <button
        type="button"
        className={`flex w-full cursor-pointer flex-col gap-0.5 rounded border bg-base-100 p-2 text-left text-sm hover:bg-base-300/60 ${fresh ? "border-primary" : "border-base-300"}`}
        onClick={go}
      >
        <span>
          {fresh && <span className="badge badge-primary badge-xs mr-1">new</span>}
          <b className="font-semibold">{notice.by}</b> {DID[notice.what]}
        </span>
        <span className="line-clamp-3 whitespace-pre-wrap">{notice.text}</span>
        <span className="text-xs opacity-80">
          {notice.project_name}, <span className="figures">{day(notice.at)}</span>
        </span>
      </button>
    </li>
  );
}
