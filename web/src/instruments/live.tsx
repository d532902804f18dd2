import { useQuery } from "@tanstack/react-query";
import { Radio } from "lucide-react";
import { useEffect, useState } from "react";
import { answer, client, type Project, type Shape } from "../api/client";

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

const SETTLES_MS = 350;

/** Hold a stand-in to the job as it was really built; a real instrument stands there by itself.
 *
 * `held` once it has been told: what it showed before is of something else. `said` why it cannot be held to it. */
export function useHeldTo(
  key: string,
  on: boolean,
  document: Project,
  records: { body: { kind: string; [more: string]: unknown } }[],
  to: { of?: string; unit?: string; travel?: number; put_in?: Shape["Put"][] },
): { held: boolean; said: string } {
  const body = {
    document,
    records: records.filter((one) => one.body.kind === "setting").map((one) => one.body),
    of: to.of ?? "",
    unit: to.unit ?? "",
    travel: to.travel ?? 0,
    put_in: to.put_in ?? [],
  };
  const asked = JSON.stringify(body);
  const [answered, setAnswered] = useState({ asked: "", said: "" });
  useEffect(() => {
    if (!on) return setAnswered({ asked: "", said: "" });
    let left = false;
    const timer = setTimeout(async () => {
      const { error } = await client.POST("/api/instruments/{key}/floor", {
        params: { path: { key } },
        body: JSON.parse(asked),
      });
      await new Promise((resolve) => setTimeout(resolve, SETTLES_MS));
      if (!left)
        setAnswered({ asked, said: error ? String((error as { detail?: string }).detail ?? "") : "" });
    }, 60);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [key, on, asked]);
  const held = answered.asked === asked;
  return { held: held && !answered.said, said: held ? answered.said : "" };
}

/** Whether the shop has an instrument, or one that is played for it. */
export function useThere(name: string): boolean {
  const all = useQuery({
    queryKey: ["instruments"],
    queryFn: () => answer(client.GET("/api/instruments")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (all.data ?? []).some((one) => one.name === name.toLowerCase());
}

/** A press that listens to an instrument; none where the shop has none. */
export function Listen({ name, on, onPress }: { name: string; on: boolean; onPress: () => void }) {
  if (!useThere(name)) return null;
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className={`flex min-h-11 items-center gap-1.5 border px-2 text-sm font-semibold ${on ? "border-press bg-press text-white" : "border-edge bg-card"}`}
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
