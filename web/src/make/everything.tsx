import { Download } from "lucide-react";
import { useState } from "react";
import { client } from "../api/client";
import { saveFile } from "../api/save-file";
import { followed } from "../api/working";
import { WorkingLine } from "../bench/working-line";

const FILES = "everything";

/** All files of a revision in one ZIP, made while one looks on. */
export function Everything({ job, revision, paper }: { job: string; revision: number; paper: string }) {
  const [waiting, setWaiting] = useState(false);
  const [said, setSaid] = useState<Error | null>(null);
  const make = async () => {
    setWaiting(true);
    setSaid(null);
    try {
      const params = { path: { job_id: job, number: revision }, query: { paper } };
      const path = "/api/jobs/{job_id}/revisions/{number}/parts.zip" as const;
      await saveFile(
        followed(FILES, (headers) => client.GET(path, { params, headers, parseAs: "blob" })),
        "parts.zip",
      );
    } catch (error) {
      setSaid(error as Error);
    }
    setWaiting(false);
  };
  return (
    <>
      <button type="button" className="press press-main px-3" disabled={waiting} onClick={() => void make()}>
        <Download size={18} aria-hidden /> Everything, as a ZIP
      </button>
      <div className="w-full empty:hidden">
        <WorkingLine name={FILES} />
        {said && (
          <p role="alert" className="text-sm">
            {said.message}
          </p>
        )}
      </div>
    </>
  );
}
