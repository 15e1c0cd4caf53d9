import type { Cut, Settings } from "../../api/client";

/** Whether a drawing hides more than new ones do. */
export const hidesMore = (cut: Cut, settings: Settings): boolean =>
  Boolean(
    cut.shown_set ||
      cut.left_out?.length ||
      cut.without?.some((kind) => !settings.new_section.without?.includes(kind)),
  );

type Props = { cut: Cut; hides: boolean; onShow: (cut: Cut) => void };

/** Over an empty drawing: that it is empty, and the way back where it hides something. */
export function NothingHere({ cut, hides, onShow }: Props) {
  return (
    <div className="pointer-events-none absolute inset-x-6 top-1/3 flex flex-col items-center gap-2 text-center text-base text-[#5a4a2a]">
      <p>Nothing is cut or seen here.</p>
      {hides && (
        <button
          type="button"
          className="btn btn-sm pointer-events-auto"
          onClick={() => onShow({ ...cut, shown_set: "", without: [], left_out: [] } as Cut)}
        >
          Show what is hidden here
        </button>
      )}
    </div>
  );
}
