import { useQuery } from "@tanstack/react-query";
import { elementsOf } from "../api/elements";
import { ElementFacts } from "../drawing/ElementFacts";
import { Part } from "../fields/Part";

type Props = { project: number; guid: string | null; onHide: (guid: string) => void };

/** What is picked, and what can be done with it. */
export function PickedFacts({ project, guid, onHide }: Props) {
  const { data } = useQuery({
    queryKey: ["element", project, guid],
    enabled: guid !== null,
    queryFn: () => elementsOf(project, [guid as string]),
  });
  const element = guid ? data?.[0] : undefined;
  return (
    element && (
      <Part title="Picked">
        <ElementFacts element={element} />
        <button type="button" className="btn btn-xs self-start" onClick={() => onHide(element.guid)}>
          Hide it here
        </button>
      </Part>
    )
  );
}
