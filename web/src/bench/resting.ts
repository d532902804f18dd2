import { useEffect, useState } from "react";

const RESTS_MS = 450;

/** What is in hand once it has stood still for a moment: what nobody reads while nudging is asked for then. */
export function useResting<T>(value: T): T {
  const [resting, setResting] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setResting(value), RESTS_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return resting;
}
