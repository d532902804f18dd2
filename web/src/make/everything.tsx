import { Download } from "lucide-react";
import { client } from "../api/client";
import { MadeFile } from "../bench/made-file";
import { useUnits } from "../quantity/units";

interface Props {
  job: string;
  revision: number;
  paper: string;
}

/** All files of a revision in one ZIP. */
export function Everything({ job, revision, paper }: Props) {
  const params = { path: { job_id: job, number: revision }, query: { paper } };
  return (
    <MadeFile
      name="everything"
      file="parts.zip"
      className="press press-main px-3"
      ask={(headers) =>
        client.GET("/api/jobs/{job_id}/revisions/{number}/parts.zip", { params, headers, parseAs: "blob" })
      }
    >
      <Download size={18} aria-hidden /> Everything, as a ZIP
    </MadeFile>
  );
}

/** One station's build sheet as a PDF, or the whole book with what is cut from which bar and sheet. */
export function BuildSheet({ job, revision, paper, station = "" }: Props & { station?: string }) {
  const { length } = useUnits().units;
  const [inches, fractions] = [length !== "mm", length === "in16"];
  const params = { path: { job_id: job, number: revision }, query: { paper, station, inches, fractions } };
  return (
    <MadeFile
      name={`build sheet of ${station || "all of it"}`}
      file="build-sheet.pdf"
      className="inline-flex min-h-11 items-center px-1 underline"
      ask={(headers) =>
        client.GET("/api/jobs/{job_id}/revisions/{number}/build-sheet.pdf", {
          params,
          headers,
          parseAs: "blob",
        })
      }
    >
      {station || "all of it"}
    </MadeFile>
  );
}

/** A page for every mount, for the wall beside it. */
export function MountPages({ job, revision, paper }: Props) {
  const { length } = useUnits().units;
  const [inches, fractions] = [length !== "mm", length === "in16"];
  const params = { path: { job_id: job, number: revision }, query: { paper, inches, fractions } };
  return (
    <MadeFile
      name="a page for every mount"
      file="mounts.pdf"
      className="press px-3"
      ask={(headers) =>
        client.GET("/api/jobs/{job_id}/revisions/{number}/mounts.pdf", { params, headers, parseAs: "blob" })
      }
    >
      <Download size={18} aria-hidden /> A page a mount, as a PDF
    </MadeFile>
  );
}
