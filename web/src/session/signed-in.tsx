import { type FormEvent, useState } from "react";
import { Outlet } from "react-router";
import { Away } from "./away";
import { DoorFrame } from "./door-frame";
import { useSession, useSignIn, useSignInDemo } from "./session";
import { Trouble, Waiting } from "./states";
import { FirstOwner } from "./ways-in";

/** Everything behind the door; the door itself where nobody is signed in. */
export function SignedIn() {
  const session = useSession();
  if (session.isPending) return <Waiting what="Opening" />;
  if (session.isError) {
    return (
      <Trouble title="The server does not answer" detail={session.error.message}>
        <button type="button" className="press press-main" onClick={() => session.refetch()}>
          Try again
        </button>
      </Trouble>
    );
  }
  if (session.data.user)
    return (
      <>
        <Away />
        <Outlet />
      </>
    );
  return session.data.first ? (
    <FirstOwner />
  ) : (
    <Door demo={session.data.demo} ownerless={session.data.ownerless ?? false} />
  );
}

function Door({ demo, ownerless }: { demo: boolean; ownerless: boolean }) {
  const [making, setMaking] = useState(false);
  const signIn = useSignIn();
  const signInDemo = useSignInDemo();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const refused = signIn.error ?? signInDemo.error;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ username, password });
  };
  if (making) return <FirstOwner ownerless />;
  return (
    <DoorFrame>
      {ownerless && (
        <div className="border border-rule bg-card p-4">
          <p className="leading-snug">
            Nobody who can sign in runs this shop’s copy. The terminal where Jugatrix was started shows a code
            that makes one an owner.
          </p>
          <button type="button" className="press mt-2 w-full" onClick={() => setMaking(true)}>
            I have the code
          </button>
        </div>
      )}
      {demo && (
        <div className="border border-rule bg-card p-4">
          <button
            type="button"
            className="press press-main w-full text-lg"
            onClick={() => signInDemo.mutate(null)}
            disabled={signInDemo.isPending}
          >
            Open the demo shop
          </button>
          <p className="mt-2 text-sm text-soft">
            Three made-up jobs to measure, move and spoil. Nothing leaves this machine.
          </p>
        </div>
      )}
      <form onSubmit={submit} className="flex flex-col gap-3">
        <label htmlFor="username" className="font-semibold">
          Name
        </label>
        <input
          id="username"
          className="entry"
          autoComplete="username"
          value={username}
          onChange={(event) => setUsername(event.target.value)}
        />
        <label htmlFor="password" className="font-semibold">
          Password
        </label>
        <input
          id="password"
          type="password"
          className="entry"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {refused && (
          <p role="alert" className="border-l-4 border-fault pl-3 text-fault">
            {refused.message}
          </p>
        )}
        <button
          type="submit"
          className="press mt-2 text-lg"
          disabled={!username || !password || signIn.isPending}
        >
          Sign in
        </button>
      </form>
    </DoorFrame>
  );
}
