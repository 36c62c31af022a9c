import { CircleUser, Moon, Sun } from "lucide-react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, NavLink, Outlet } from "react-router";

import { useMe, type Permission } from "../api/account";
import { onSignedOut } from "../api/client";
import { SignInPage } from "../account/SignInPage";
import { useNewerVersion } from "../shared/newerVersion";
import { StorageBanner } from "../shared/StorageBanner";
import { useTheme } from "../shared/theme";

/** The main pages: where to, the name, and the permission that each takes. */
const WAYS: [string, string, Permission][] = [
  ["/", "Today", "run_classes"],
  ["/classes", "Classes", "run_classes"],
  ["/courses", "Courses", "plan_classes"],
  ["/book", "Class log", "run_classes"],
  ["/people", "People", "read_health"],
  ["/rooms", "Rooms", "run_classes"],
  ["/catalogue", "Catalogue", "run_classes"],
];

/** The frame of every screen: the mark, the ways, who is signed in, and day or wall theme. */
export function Shell() {
  const [theme, switchTheme] = useTheme();
  const me = useMe();
  const queries = useQueryClient();
  const newer = useNewerVersion();
  useEffect(() => onSignedOut(() => queries.setQueryData(["me"], null)), [queries]);
  const way = ({ isActive }: { isActive: boolean }) =>
    `text-sm underline-offset-4 hover:underline ${isActive ? "font-semibold underline" : ""}`;
  return (
    <div className="min-h-screen">
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-base-100 focus:p-2">
        Skip to the class
      </a>
      <StorageBanner words="What you do here is kept by the server alone; drafts are gone when the page closes." />
      <header className="print:hidden flex h-10 items-center gap-4 border-b border-base-300 bg-base-200 px-4 lg:px-6">
        <Link to="/" className="flex items-center gap-2 font-semibold whitespace-nowrap">
          <img src="/mark.svg" alt="" className="h-6 w-6 max-w-none" />
          <span className="sr-only md:not-sr-only">Oaken Circuit</span>
        </Link>
        {me.data && (
          <>
            <nav aria-label="Ways" className="flex min-w-0 gap-4 overflow-x-auto">
              {WAYS.filter(([, , takes]) => me.data?.permissions.includes(takes)).map(([to, name]) => (
                <NavLink key={to} to={to} end={to === "/"} className={way}>
                  {name}
                </NavLink>
              ))}
            </nav>
            <NavLink to="/studio" className={(at) => `${way(at)} ml-auto`}>
              <CircleUser size={18} aria-hidden className="sm:hidden" />
              <span className="sr-only sm:not-sr-only">
                {me.data.studio.name}, {me.data.user}
              </span>
            </NavLink>
          </>
        )}
        <button type="button" className={`btn btn-ghost btn-sm ${me.data ? "" : "ml-auto"}`} onClick={switchTheme}>
          {theme === "mill-day" ? <Moon size={16} aria-hidden /> : <Sun size={16} aria-hidden />}
          <span className="sr-only lg:not-sr-only">{theme === "mill-day" ? "Dark mode" : "Light mode"}</span>
        </button>
      </header>
      {newer && (
        <p
          role="status"
          className="flex items-center gap-3 border-b border-base-300 bg-base-200 px-4 py-1 text-sm lg:px-6"
        >
          A newer version is here.
          <button type="button" className="btn btn-xs" onClick={newer}>
            Load it
          </button>
        </p>
      )}
      <main id="main">
        {me.isPending ? (
          <div className="p-6" role="status" aria-label="Opening">
            <div className="skeleton h-9 w-80" />
          </div>
        ) : me.isError ? (
          <div className="mx-auto max-w-lg p-10" role="alert">
            <h1 className="text-2xl font-semibold">The server does not answer</h1>
            <p className="mt-2">{me.error.message}</p>
            <button type="button" className="btn btn-primary mt-4" onClick={() => void me.refetch()}>
              Try again
            </button>
          </div>
        ) : me.data ? (
          <Outlet />
        ) : (
          <SignInPage />
        )}
      </main>
    </div>
  );
}
