import { useEffect, useState } from "react";

/** A value that follows another one once that has stayed the same for a while. */
export function useDelayed<T>(value: T, milliseconds: number): T {
  const [late, setLate] = useState(value);
  useEffect(() => {
    const wait = setTimeout(() => setLate(value), milliseconds);
    return () => clearTimeout(wait);
  }, [value, milliseconds]);
  return late;
}
