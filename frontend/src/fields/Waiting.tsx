/** In place of what is on its way, or can't come. */
export function Waiting({ error }: { error: Error | null }) {
  return (
    <p role={error ? "alert" : "status"} className="p-8">
      {error ? error.message : "Opening …"}
    </p>
  );
}
