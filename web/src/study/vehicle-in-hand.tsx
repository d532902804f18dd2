import { useUnits } from "../quantity/units";
import { type Taken, useTaken, type Vehicle } from "./study";

interface Props {
  job: string;
  vehicle: Vehicle;
  running: boolean;
  onTake: (taken: Taken) => void;
}

/** One vehicle of the front, station by station, proved by the general solver; a press puts it into the job. */
export function VehicleInHand({ job, vehicle, running, onTake }: Props) {
  const { quantity } = useUnits();
  const taken = useTaken(job, vehicle);
  const proofs = new Map(taken.data?.proved.map((one) => [one.station, one]));
  const told = (
    value: number | null | undefined,
    dimension: Parameters<typeof quantity>[1],
    digits?: number,
  ) => (value == null ? "–" : quantity(value, dimension, digits));
  const moved = (station: string) => Object.keys(taken.data?.changes[station]?.points ?? {}).length;
  return (
    <section aria-label="The vehicle in hand" className="mt-4">
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-right">
          <thead>
            <tr className="border-b-2 border-rule text-sm">
              {["", "spring", "frequency", "ratio", "perch turned", "damper left", "in roll", "proved"].map(
                (head) => (
                  <th
                    key={head}
                    scope="col"
                    className="px-2 py-1 font-semibold first:text-left last:text-left"
                  >
                    {head || <span className="sr-only">station</span>}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {Object.entries(vehicle.stations).map(([name, its]) => {
              const proof = proofs.get(name);
              return (
                <tr key={name} className="border-b border-rule">
                  <th scope="row" className="px-2 py-2 text-left font-semibold">
                    {name}
                    <span className="block text-sm font-normal text-soft">
                      {moved(name) ? `${moved(name)} points moved` : "as drawn"}
                    </span>
                  </th>
                  <td className="whitespace-nowrap px-2">{told(its.spring, "rate")}</td>
                  <td className="whitespace-nowrap px-2">{told(its.frequency, "frequency", 2)}</td>
                  <td className="whitespace-nowrap px-2">{told(its.ratio, "ratio", 3)}</td>
                  <td className="whitespace-nowrap px-2">{told(its.perch, "travel")}</td>
                  <td className="whitespace-nowrap px-2">{told(its.left, "length")}</td>
                  <td className="whitespace-nowrap px-2">
                    {its.roll ? told(its.roll, "roll_stiffness", 0) : "none"}
                  </td>
                  <td className="px-2 text-left text-sm leading-tight">
                    {!proof
                      ? "being proved"
                      : proof.refused ||
                        `stands at ${told(proof.ride, "travel")}, ${told(proof.frequency, "frequency", 2)}; ${
                          proof.faults
                            ? `${proof.faults} ${proof.faults === 1 ? "fault" : "faults"}`
                            : "no faults"
                        }`}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap items-center gap-3 pt-3">
        <button
          type="button"
          className="press press-main"
          disabled={!taken.data}
          onClick={() => taken.data && onTake(taken.data)}
        >
          Take this one
        </button>
        <p className="text-sm text-soft">
          {taken.isError
            ? taken.error.message
            : running
              ? "It still grows: better ones may come."
              : "Proved in the job as it stood when the study began. It goes into the job in hand; Undo takes it back."}
        </p>
      </div>
    </section>
  );
}
