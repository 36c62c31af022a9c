import { Moon, Sun } from "lucide-react";
import { Link, Outlet } from "react-router";

import { useTheme } from "./theme";

/** The frame of every screen: the mark, the way home, and day or wall theme. */
export function Shell() {
  const [theme, switchTheme] = useTheme();
  return (
    <div className="min-h-screen">
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-base-100 focus:p-2">
        Skip to the class
      </a>
      <header className="flex h-10 items-center gap-4 border-b border-base-300 bg-base-200 px-4 lg:px-6">
        <Link to="/" className="flex items-center gap-2 font-semibold whitespace-nowrap">
          <img src="/mark.svg" alt="" className="h-6 w-6" />
          <span className="sr-only sm:not-sr-only">Oaken Circuit</span>
        </Link>
        <Link to="/" className="text-sm underline-offset-4 hover:underline">
          Classes
        </Link>
        <Link to="/rooms" className="text-sm underline-offset-4 hover:underline">
          Rooms
        </Link>
        <Link to="/catalogue" className="text-sm underline-offset-4 hover:underline">
          Catalogue
        </Link>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={switchTheme}>
          {theme === "mill-day" ? <Moon size={16} aria-hidden /> : <Sun size={16} aria-hidden />}
          <span className="sr-only sm:not-sr-only">{theme === "mill-day" ? "Wall theme" : "Day theme"}</span>
        </button>
      </header>
      <main id="main">
        <Outlet />
      </main>
    </div>
  );
}

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
