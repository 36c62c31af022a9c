import { Link } from "react-router";

type Props = { what: string; error: Error; again: () => void; home: string; homeName: string };

/** What stands in place of something that could not be opened: why, and what to do. */
export function CannotOpen({ what, error, again, home, homeName }: Props) {
  return (
    <div className="mx-auto max-w-lg p-10">
      <h1 className="text-2xl font-semibold">{what} cannot be opened</h1>
      <p className="mt-2">{error.message}</p>
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn btn-primary" onClick={again}>
          Try again
        </button>
        <Link to={home} className="btn">
          {homeName}
        </Link>
      </div>
    </div>
  );
}
