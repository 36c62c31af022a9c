/** What went wrong, in a frame of its own; nothing where nothing did. */
export function Refused({ error }: { error: Error | null | undefined }) {
  if (!error) return null;
  return (
    <p role="alert" className="mt-2 rounded border border-error p-2 text-sm">
      {error.message}
    </p>
  );
}
