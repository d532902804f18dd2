import { client, type Project } from "../api/client";
import { useAskedOfJob } from "../bench/asked";
import { VerdictLine } from "../findings/verdict";
import { useSay } from "../quantity/sentence";

/** The sentence above the Brief: what the wheels carry, and how it is to ride. */
export function BriefVerdict({ document }: { document: Project }) {
  const say = useSay();
  const found = useAskedOfJob("brief", document, (body) => client.POST("/api/brief", { body }));
  return (
    <VerdictLine
      question="What must the vehicle do?"
      mark={found.data?.mark ?? (found.isError ? "warning" : "")}
      words={found.data ? say(found.data.said) : (found.error?.message ?? "Adding up …")}
    />
  );
}
