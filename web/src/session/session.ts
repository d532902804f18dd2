import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, type Shape } from "../api/client";

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
    },
  });
}

export function useSignIn() {
  return useSessionChange((body: Shape["Credentials"]) => answer(client.POST("/api/session", { body })));
}

export function useSignInDemo() {
  return useSessionChange((_: null) => answer(client.POST("/api/session/demo")));
}

export function useSignOut() {
  return useSessionChange((_: null) => answer(client.DELETE("/api/session")));
}
