// The line that is measured, and how far it is.
import { howFar, useMeasuring } from "./measuring";
import { useTable } from "./TableContext";
import "./Measure.css";

export function Measure() {
  const { view } = useTable();
  const { on, from, to } = useMeasuring();
  if (!on) return null;
  if (!from || !to)
    return (
      <p className="measure-hint" role="status">
        Press where to measure from, and drag to where.
      </p>
    );
  const { wide, high } = view.settings;
  return (
    <>
      <svg className="measure" viewBox={`0 0 ${wide} ${high}`} aria-hidden="true">
        <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
      </svg>
      <output className="measure-far" style={{ "--x": to.x, "--y": to.y }}>
        {howFar(view, from, to)}
      </output>
    </>
  );
}
