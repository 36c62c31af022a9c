import { useEffect } from "react";

import { SignInForm } from "../shared/SignInForm";

/** The door: name and password, and why they are asked for. */
export function SignInPage() {
  useEffect(() => {
    document.title = "Sign in – Oaken Circuit";
  }, []);
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
