// A list that shows its first hundred, and all of them when asked: long ones open as fast as short ones.
import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { plural } from "../parts/plural";

/** How many are shown at first. */
const first = 100;

export function LongList<T>({ of, what, className, each }: { of: T[]; what: string; className: string; each: (one: T) => ReactNode }) {
  const [all, setAll] = useState(false);
  return (
    <>
      <div className={className}>{(all ? of : of.slice(0, first)).map(each)}</div>
      {!all && of.length > first && (
        <Button size="sm" variant="outline-secondary" className="mt-3" onClick={() => setAll(true)}>
          Show all {plural(of.length, what)}
        </Button>
      )}
    </>
  );
}
