import { Copy } from "lucide-react";
import { toast } from "sonner";

/** What is shown once, to be passed on: an address, a token, codes. */
export function Told({ label, text }: { label: string; text: string }) {
  const copy = async () => {
    await navigator.clipboard.writeText(text);
    toast("Copied");
  };
  return (
    <div role="status" className="flex flex-col gap-1 rounded border border-secondary p-2 text-sm">
      <p>{label}</p>
      <p className="figures text-xs break-all whitespace-pre-wrap">{text}</p>
      {window.isSecureContext && (
        <button type="button" className="btn btn-xs self-start" onClick={copy}>
          <Copy size={12} /> Copy
        </button>
      )}
    </div>
  );
}
