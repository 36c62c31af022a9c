import { useEffect } from "react";

import { useMayBegin } from "../api/account";
import { BeginPage } from "./BeginPage";
import { SignInForm } from "../shared/SignInForm";

/** The door: name and password, and why they are asked for. */
export function SignInPage() {
  const first = useMayBegin();
  useEffect(() => {
    document.title = "Sign in – Oaken Circuit";
  }, []);
  if (first.isPending) return null;
  if (first.data) return <BeginPage />;
  return (
    <div className="mx-auto mt-16 max-w-sm px-4">
      <h1 className="text-2xl font-semibold">Sign in</h1>
      <p className="faint my-3 text-sm">
        Heart rates and what people have to be careful about stay within your studio.
      </p>
      <SignInForm />
    </div>
  );
}
