import { AlertDialog } from "radix-ui";
import { useState } from "react";
import { type Unsent, unsentOf } from "./own";
import { useSession, useSignOut, useSignOutEverywhere } from "./session";

/** Sign out, here or everywhere; what was not sent from here is asked about first. */
export function SignOut({ everywhere, className }: { everywhere?: boolean; className: string }) {
  const session = useSession();
  const here = useSignOut();
  const all = useSignOutEverywhere();
  const leave = everywhere ? all : here;
  const [lost, setLost] = useState<Unsent | null>(null);
  const asked = () => {
    const found = unsentOf(session.data?.user ?? "");
    if (found.entries || found.jobs) setLost(found);
    else leave.mutate(null);
  };
  return (
    <>
      <button type="button" className={className} disabled={leave.isPending} onClick={asked}>
        {everywhere ? "Sign out everywhere" : "Sign out"}
      </button>
      {leave.error && (
        <p role="alert" className="border-l-4 border-fault pl-3 text-fault">
          {leave.error.message}
        </p>
      )}
      <AlertDialog.Root open={lost !== null} onOpenChange={(open) => !open && setLost(null)}>
        <AlertDialog.Portal>
          <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
          <AlertDialog.Content className="fixed top-1/2 left-1/2 z-50 w-[min(32rem,calc(100vw-2rem))] -translate-x-1/2 -translate-y-1/2 border border-edge bg-card p-6 text-ink">
            <AlertDialog.Title className="text-2xl">Not everything has reached the server</AlertDialog.Title>
            <AlertDialog.Description asChild>
              <div className="mt-2 grid gap-2 leading-snug">
                {lost !== null && lost.entries > 0 && (
                  <p>
                    {lost.entries === 1 ? "One entry waits" : `${lost.entries} entries wait`} in this browser:
                    readings or records. Signing out loses {lost.entries === 1 ? "it" : "them"}.
                  </p>
                )}
                {lost !== null && lost.jobs > 0 && (
                  <p>
                    {lost.jobs === 1 ? "One job has" : `${lost.jobs} jobs have`} changes that are not saved.
                    What of them reached the server is offered when you sign in again; the rest is lost.
                  </p>
                )}
              </div>
            </AlertDialog.Description>
            <div className="mt-5 flex flex-wrap justify-end gap-3">
              <AlertDialog.Cancel className="press press-main">Stay signed in</AlertDialog.Cancel>
              <AlertDialog.Action className="press" onClick={() => leave.mutate(null)}>
                Sign out and lose it
              </AlertDialog.Action>
            </div>
          </AlertDialog.Content>
        </AlertDialog.Portal>
      </AlertDialog.Root>
    </>
  );
}
