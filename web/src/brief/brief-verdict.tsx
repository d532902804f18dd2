import { useQuery } from "@tanstack/react-query";
import { answer, client, type Project } from "../api/client";
import { VerdictLine } from "../findings/verdict";
import { useSay } from "../quantity/sentence";

/** The sentence above the Brief: what the wheels carry, and how it is to ride. */
export function BriefVerdict({ document }: { document: Project }) {
  const say = useSay();
  const found = useQuery({
    queryKey: ["brief", document],
    queryFn: () =>
      answer(
        client.POST("/api/brief", { body: { document: document as unknown as Record<string, unknown> } }),
      ),
    placeholderData: (before) => before,
    gcTime: 0,
    retry: false,
  });
  return (
    <VerdictLine
      question="What must the vehicle do?"
      mark={found.data?.mark ?? (found.isError ? "warning" : "")}
      words={found.data ? say(found.data.said) : (found.error?.message ?? "Adding up …")}
    />
  );
}
