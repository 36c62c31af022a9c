import { isRouteErrorResponse, Link, useRouteError } from "react-router";

/** What an unknown address shows. */
export function NotFound() {
  return (
    <div className="mx-auto max-w-lg p-10">
      <h1 className="text-2xl font-semibold">There is nothing at this address</h1>
      <p className="mt-2">The class may have another number, or the link was cut short.</p>
      <Link to="/" className="btn btn-primary mt-4">
        All classes
      </Link>
    </div>
  );
}

/** Whether a part of the application could not be fetched: the server is away, or another version of it answers. */
function isMissingPart(error: Error): boolean {
  return /dynamically imported module|module script failed|Importing a module/i.test(error.message);
}

/** What a page shows that broke: what happened, that drafts are safe, and what to do. */
export function Broken() {
  const error = useRouteError();
  if (isRouteErrorResponse(error) && error.status === 404) return <NotFound />;
  const told = error instanceof Error ? error : new Error(String(error));
  const missing = isMissingPart(told);
  return (
    <div className="mx-auto max-w-xl p-10" role="alert" data-testid="broken">
      <h1 className="text-2xl font-semibold">
        {missing ? "This page could not be fetched" : "This page broke while it was drawn"}
      </h1>
      <p className="mt-2">
        {missing
          ? "The server does not answer, or it was renewed since this tab was opened."
          : "That is a fault of ours, not of what you did. The other pages work."}{" "}
        Drafts that were not saved are still on this device.
      </p>
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn btn-primary" onClick={() => window.location.reload()}>
          Load it again
        </button>
        <Link to="/" className="btn" reloadDocument={missing}>
          All classes
        </Link>
      </div>
      {!missing && (
        <details className="mt-6 text-sm">
          <summary className="cursor-pointer">What to tell whoever looks after the server</summary>
          <pre className="mt-2 overflow-x-auto rounded bg-base-200 p-2 text-xs">
            {window.location.pathname}
            {"\n"}
            {told.name}: {told.message}
          </pre>
        </details>
      )}
    </div>
  );
}
