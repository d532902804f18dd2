import { useQueryClient } from "@tanstack/react-query";
import { Download, Printer, Upload } from "lucide-react";
import { useRef, useState } from "react";
import { client, Refused, takeRecords } from "../api/client";
import { MadeFile } from "../bench/made-file";
import { useUnits } from "../quantity/units";
import { BookList, ToSheet } from "./book-list";

interface Props {
  job: string;
  /** Show what a revision changed. */
  onRevision: (number: number) => void;
}

/** Everything that happened to the job, the newest first: each entry opens what it holds. */
export function JobBook({ job, onRevision }: Props) {
  const queries = useQueryClient();
  const { units } = useUnits();
  const [said, setSaid] = useState("");
  const picker = useRef<HTMLInputElement>(null);
  const bring = async (file: File | undefined) => {
    if (!file) return;
    try {
      const { records } = await takeRecords(job, file);
      setSaid(
        records
          ? records === 1
            ? "One record imported."
            : `${records} records imported.`
          : "Everything in that table is here already.",
      );
      await queries.invalidateQueries();
    } catch (refused) {
      setSaid(refused instanceof Refused ? refused.message : "The table cannot be read.");
    }
  };
  return (
    <section aria-label="The job’s book">
      <h2 className="text-2xl">The job’s book, newest first</h2>
      <p role="status" className={said ? "border-l-4 border-rule pl-3 leading-snug" : "sr-only"}>
        {said}
      </p>
      <BookList
        job={job}
        name="the job’s book"
        presses={
          <>
            <MadeFile
              name="the customer’s book"
              file="book.pdf"
              ask={(headers) =>
                client.GET("/api/jobs/{job_id}/book.pdf", {
                  params: {
                    path: { job_id: job },
                    query: { inches: units.length !== "mm", paper: units.length !== "mm" ? "Letter" : "A4" },
                  },
                  headers,
                  parseAs: "blob",
                })
              }
            >
              <Printer size={18} aria-hidden /> Customer’s book
            </MadeFile>
            <a className="press px-3" href={`/api/jobs/${job}/records.csv`}>
              <Download size={18} aria-hidden /> Export CSV
            </a>
            <button type="button" className="press px-3" onClick={() => picker.current?.click()}>
              <Upload size={18} aria-hidden /> Import CSV
            </button>
            <input
              ref={picker}
              type="file"
              accept=".csv,text/csv"
              className="sr-only"
              aria-label="A table of records"
              tabIndex={-1}
              onChange={(event) => {
                void bring(event.target.files?.[0]);
                event.target.value = "";
              }}
            />
          </>
        }
        of={(one) => (
          <>
            {one.number !== null && (
              <button
                type="button"
                className="press px-3 text-sm"
                onClick={() => onRevision(one.number ?? 1)}
              >
                What it changed
              </button>
            )}
            <ToSheet job={job} sheet={one.sheet} />
          </>
        )}
      />
    </section>
  );
}
