import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { askWhoAnew, lookAtLink, openLink } from "../api/people";
import { Door, DoorField } from "./Door";
import { inAddress } from "./people-words";
import { useAct } from "./use-act";

/** Where a link leads: to its word, where it has one, and then to what it shows. */
export function LinkPage() {
  const token = inAddress();
  const navigate = useNavigate();
  const { data, error } = useQuery({
    queryKey: ["link", token],
    retry: false,
    queryFn: () => lookAtLink(token),
  });
  const [word, setWord] = useState("");
  const { busy, problem, run } = useAct();
  const open = () =>
    run(async () => {
      await openLink(token, word);
      await askWhoAnew();
      navigate("/", { replace: true });
    });
  const straight = data?.worded === false;
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened once it is known that no word is asked for
  useEffect(() => {
    if (straight) void open();
  }, [straight]);
  const refused = error?.message ?? (straight ? problem : "");
  if (refused || !data?.worded)
    return (
      <p role={refused ? "alert" : "status"} className="p-8">
        {refused || "Opening …"}
      </p>
    );
  return (
    <Door title="Drawings for you" problem={problem} act="Look" busy={busy} onSubmit={open}>
      <DoorField label="The word that you were told" first value={word} onChange={setWord} most={100} />
    </Door>
  );
}
