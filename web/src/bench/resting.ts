import { useEffect, useState } from "react";

/** What is in hand once it has stood still for so many ms: what nobody reads while nudging is asked for then. */
export function useResting<T>(value: T, ms: number): T {
  const [resting, setResting] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setResting(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return resting;
}
