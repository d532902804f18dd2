import { type FormEvent, useState } from "react";
import { Mark } from "../marks/mark";
import { useSession, useSignInAgain } from "./session";

/** Signed out while at work: said as that, with the way back in, and nothing in hand touched. */
export function SignInAgain({ onBack }: { onBack: () => void }) {
  const session = useSession();
  const signIn = useSignInAgain();
  const user = session.data?.user ?? "";
  const [username, setUsername] = useState(user);
  const [password, setPassword] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ username, password }, { onSuccess: onBack });
  };
  return (
    <form
      onSubmit={submit}
      aria-label="Sign in again"
      className="no-print flex flex-wrap items-center gap-3 border-b border-rule bg-marker/25 px-4 py-2"
    >
      <Mark mark="warning" />
      <p className="min-w-0 flex-1 basis-60 font-semibold">
        You are signed out. What you entered is still here; sign in to go on.
      </p>
      <input
        aria-label="Name"
        className="entry w-40"
        autoComplete="username"
        value={username}
        onChange={(event) => setUsername(event.target.value)}
      />
      <input
        aria-label="Password"
        type="password"
        className="entry w-40"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      <button
        type="submit"
        className="press press-main"
        disabled={!username || !password || signIn.isPending}
      >
        Sign in
      </button>
      {signIn.error && (
        <p role="alert" className="w-full text-fault">
          {signIn.error.message}
        </p>
      )}
    </form>
  );
}
