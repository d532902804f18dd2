import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, type Shape } from "../api/client";
import { forgetAnswers, rememberAnswer } from "../api/line";

const KEY = ["session"];

/** Who is signed in. */
export function useSession() {
  return useQuery({ queryKey: KEY, queryFn: () => answer(client.GET("/api/session")), staleTime: 60_000 });
}

function useSessionChange<Input>(change: (input: Input) => Promise<Shape["Session"]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: (session) => {
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

export function useSignOut() {
  return useSessionChange(async (_: null) => {
    const session = await answer(client.DELETE("/api/session"));
    await forgetAnswers();
    return session;
  });
}

/** End every session of one's own, on every device. */
export function useSignOutEverywhere() {
  return useSessionChange(async (_: null) => {
    const session = await answer(client.POST("/api/people/everywhere"));
    await forgetAnswers();
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
