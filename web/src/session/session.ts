import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, OFFLINE, Refused, type Shape } from "../api/client";
import { rememberAnswer } from "../api/line";
import { belongTo, forgetOwn, isLeaving, leave, left } from "./own";

const KEY = ["session"];

/** Who is signed in. */
export function useSession() {
  return useQuery({ queryKey: KEY, queryFn: whoIsHere, staleTime: 60_000 });
}

async function whoIsHere(): Promise<Shape["Session"]> {
  if (isLeaving()) await answer(client.DELETE("/api/session")).then(left, () => {}); // without a line still to do
  const session = await answer(client.GET("/api/session"));
  if (await belongTo(session.user)) await rememberAnswer("/api/session", session);
  return session;
}

function useSessionChange<Input>(change: (input: Input) => Promise<Shape["Session"]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: async (session) => {
      if (session.user) left();
      await belongTo(session.user);
      queries.removeQueries({ predicate: (query) => query.queryKey[0] !== KEY[0] });
      queries.setQueryData(KEY, session);
      void rememberAnswer("/api/session", session);
    },
  });
}

export function useSignIn() {
  return useSessionChange((body: Shape["Credentials"]) => answer(client.POST("/api/session", { body })));
}

/** Sign in again where one stands: nothing that is open is fetched anew, so nothing that is in hand is lost. */
export function useSignInAgain() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: Shape["Credentials"]) => {
      await answer(client.GET("/api/session")); // brings a token, should that have gone with the session
      return answer(client.POST("/api/session", { body }));
    },
    onSuccess: (session) => {
      queries.setQueryData(KEY, session);
      void rememberAnswer("/api/session", session);
      void queries.invalidateQueries({ predicate: (query) => query.state.status === "error" });
    },
  });
}

export function useSignInDemo() {
  return useSessionChange((_: null) => answer(client.POST("/api/session/demo")));
}

const NOBODY: Shape["Session"] = {
  user: null,
  role: null,
  demo: false,
  first: false,
  ownerless: false,
  warnings: [],
};

/** Sign out here, with a line or without: what this browser keeps of whoever it was goes at once. */
export function useSignOut() {
  const queries = useQueryClient();
  return useSessionChange(async (_: null) => {
    const user = queries.getQueryData<Shape["Session"]>(KEY)?.user ?? null;
    let session = NOBODY;
    try {
      session = await answer(client.DELETE("/api/session"));
    } catch (refused) {
      if (!(refused instanceof Refused) || refused.code !== OFFLINE) throw refused;
      leave();
    }
    await forgetOwn(user);
    return session;
  });
}

/** End every session of one's own, on every device. */
export function useSignOutEverywhere() {
  const queries = useQueryClient();
  return useSessionChange(async (_: null) => {
    const user = queries.getQueryData<Shape["Session"]>(KEY)?.user ?? null;
    const session = await answer(client.POST("/api/people/everywhere"));
    await forgetOwn(user);
    return session;
  });
}

export function useMakeFirstOwner() {
  return useSessionChange((body: Shape["FirstIn"]) => answer(client.POST("/api/people/first", { body })));
}

export function useTakeInvite() {
  return useSessionChange((body: Shape["TokenIn"]) => answer(client.POST("/api/people/invited", { body })));
}

export function useReset() {
  return useSessionChange((body: Shape["TokenIn"]) => answer(client.POST("/api/people/reset", { body })));
}
