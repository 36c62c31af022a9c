/** What stands in place of a page while it is being read. */
export function Opening({ what }: { what: string }) {
  return (
    <div className="p-6" role="status" aria-label={`Opening ${what}`}>
      <div className="skeleton h-9 w-80" />
      <div className="skeleton mt-4 h-96 w-full" />
    </div>
  );
}
