import { Radio } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { client, type Project, type Shape } from "../api/client";
import type { Kept } from "../survey/store";

export type Shown = Shape["ShownOut"];

/** What an instrument shows, line by line as it sends them; null while nothing has come. */
export function useLive(key: string, on: boolean): Shown | null {
  const [shown, setShown] = useState<Shown | null>(null);
  useEffect(() => {
    if (!on) return setShown(null);
    const events = new EventSource(`/api/instruments/${key}/live`);
    events.onmessage = (event) => setShown(JSON.parse(event.data) as Shown);
    // An ended stream is taken up again by itself; till then nothing is shown that may be old.
    events.onerror = () =>
      setShown((before) =>
        before ? { ...before, value: null, values: [], steady: false, said: "no line to it" } : before,
      );
    return () => events.close();
  }, [key, on]);
  return shown;
}

/** Hold a stand-in to the job as it was really built; a real instrument stands there by itself. */
export function useHeldTo(
  key: string,
  on: boolean,
  document: Project,
  records: Kept[],
  held: { of?: string; unit?: string; travel?: number; put_in?: Shape["Put"][] },
) {
  const [said, setSaid] = useState("");
  const body = {
    document: document as unknown as Record<string, unknown>,
    records: records.filter((one) => one.body.kind === "setting").map((one) => one.body),
    of: held.of ?? "",
    unit: held.unit ?? "",
    travel: held.travel ?? 0,
    put_in: held.put_in ?? [],
  };
  const asked = JSON.stringify(body);
  const latest = useRef(asked);
  latest.current = asked;
  useEffect(() => {
    if (!on) return;
    const timer = setTimeout(async () => {
      const { error } = await client.POST("/api/instruments/{key}/floor", {
        params: { path: { key } },
        body: JSON.parse(asked),
      });
      if (latest.current === asked) setSaid(error ? String((error as { detail?: string }).detail ?? "") : "");
    }, 60);
    return () => clearTimeout(timer);
  }, [key, on, asked]);
  return said;
}

/** A press that listens to an instrument. */
export function Listen({ name, on, onPress }: { name: string; on: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className={`flex min-h-11 items-center gap-1.5 border px-2 text-sm font-semibold ${on ? "border-[#1d3f82] bg-[#1d3f82] text-white" : "border-edge bg-card"}`}
    >
      <Radio size={18} aria-hidden /> {name}
    </button>
  );
}

/** In words how an instrument is: steady or not, only a stand-in, its battery when that matters. */
export function How({ shown, more = "" }: { shown: Shown | null; more?: string }) {
  const low = shown?.battery != null && shown.battery < 15 ? `, battery ${Math.round(shown.battery)} %` : "";
  return (
    <p role="status" className={`text-sm ${shown && !shown.values.length ? "text-fault" : "text-soft"}`}>
      {more || (shown ? `${shown.said}${shown.stand_in ? ", stand-in" : ""}${low}` : "listening")}
    </p>
  );
}
