/** A job's design study: asked for while it runs, and what of it goes into the job in hand. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, client, type Project, type Shape, type Station } from "../api/client";

export type Vary = Shape["StudyVary"];
export type Wishes = Shape["StudyWishes"];
export type Study = Shape["StudyOut"];
export type Vehicle = Shape["StudiedOut"];
export type Taken = Shape["StudyTakenOut"];

export interface Asking {
  vary: Vary[];
  wishes: Wishes;
  candidates: number;
}

const LOOKS_MS = 1000;

/** The wishes that a vehicle may miss, as they are said. */
export const WISHES: { key: string; name: string; hint: string }[] = [
  { key: "frequency", name: "Frequencies", hint: "the station furthest off" },
  { key: "roll", name: "Front’s share of roll", hint: "off the share that is wanted" },
  { key: "room", name: "Damper and coil left", hint: "short of what is to be left" },
  { key: "damper", name: "One damper all round", hint: "what it lacks of its length" },
  { key: "springs", name: "Different springs", hint: "each rate more than one" },
  { key: "tape", name: "Spread from the tape’s error", hint: "how the ride height scatters" },
];

const key = (job: string) => ["study", job];
const at = (job: string) => ({ params: { path: { job_id: job } } });

export function useStudy(job: string) {
  const queries = useQueryClient();
  const study = useQuery({
    queryKey: key(job),
    queryFn: () => answer(client.GET("/api/jobs/{job_id}/study", at(job))),
    // At rest nothing is asked; while it runs it is looked at once a second.
    refetchInterval: (query) => (query.state.data?.running ? LOOKS_MS : false),
    staleTime: 0,
  });
  const put = (now: Study) => queries.setQueryData(key(job), now);
  const begin = useMutation({
    mutationFn: ({ document, asking }: { document: Project; asking: Asking }) =>
      answer(
        client.POST("/api/jobs/{job_id}/study", {
          ...at(job),
          body: { document, ...asking },
        }),
      ),
    onSuccess: put,
  });
  const stop = useMutation({
    mutationFn: () => answer(client.POST("/api/jobs/{job_id}/study/stop", at(job))),
    onSuccess: put,
  });
  const goOn = useMutation({
    mutationFn: () => answer(client.POST("/api/jobs/{job_id}/study/go", at(job))),
    onSuccess: put,
  });
  return { study, begin, stop, goOn, trouble: begin.error ?? stop.error ?? goOn.error };
}

/** What a study of the job in hand would begin with; asked once. */
export const useUsual = (job: string, document: Project, enabled: boolean) =>
  useQuery({
    queryKey: ["study-usual", job, document],
    queryFn: () =>
      answer(
        client.POST("/api/study/usual", {
          body: { document },
        }),
      ),
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

/** One vehicle put into the job that was studied, and proved. */
export const useTaken = (job: string, vehicle: Vehicle | null) =>
  useQuery({
    queryKey: ["study-vehicle", job, vehicle?.score],
    queryFn: () =>
      answer(
        client.GET("/api/jobs/{job_id}/study/vehicle", {
          params: { path: { job_id: job }, query: { score: vehicle?.score ?? 0 } },
        }),
      ),
    enabled: vehicle !== null,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

/** The job with a vehicle's places, springs and perches in it, station by station by name. */
export function withVehicle(document: Project, { changes }: Taken): Project {
  const stations = document.stations.map((station) => {
    const its = changes[station.name];
    if (!its) return station;
    const units = (station.units ?? []).map((unit) => ({ ...unit, ...its.units[unit.name] }));
    return { ...station, points: { ...station.points, ...its.points }, units } as Station;
  });
  return { ...document, stations: stations as Project["stations"] };
}
