import { type ReactNode, useState } from "react";
import type { Answer } from "../api/client";
import { saveFile } from "../api/save-file";
import { followed } from "../api/working";
import { WorkingLine } from "./working-line";

interface Props {
  /** What it is worked out under: one of a name at a time. */
  name: string;
  /** The file's name, where the server gives none. */
  file: string;
  ask: (headers: Record<string, string>) => Promise<Answer<unknown>>;
  className?: string;
  children: ReactNode;
}

/** A paper or a folder of files, made while one looks on; it can be stopped. */
export function MadeFile({ name, file, ask, className, children }: Props) {
  const [waiting, setWaiting] = useState(false);
  const [said, setSaid] = useState<Error | null>(null);
  const make = async () => {
    setWaiting(true);
    setSaid(null);
    try {
      await saveFile(followed(name, ask), file);
    } catch (error) {
      setSaid(error as Error);
    }
    setWaiting(false);
  };
  return (
    <>
      <button
        type="button"
        className={className ?? "press px-3"}
        disabled={waiting}
        onClick={() => void make()}
      >
        {children}
      </button>
      <div className="w-full empty:hidden">
        <WorkingLine name={name} />
        {said && (
          <p role="alert" className="text-sm">
            {said.message}
          </p>
        )}
      </div>
    </>
  );
}
