// A grid with its free cells; cards on a cell are a place of their own.
import type { Place } from "../api/client";
import { cellBox, cellName, hexLines } from "../room/cells";
import { useDragging } from "./dragging";
import { lying } from "./lying";
import { useMeasuring } from "./measuring";
import "./GridOnMat.css";

export function GridOnMat({ place }: { place: Place }) {
  const over = useDragging(({ dragging }) => dragging?.over ?? null);
  const measured = useMeasuring((s) => s.cells);
  const { columns = 1, rows = 1 } = place.grid ?? {};
  return (
    <section
      className="place kind-grid"
      data-place={place.id}
      aria-label={`${place.name}, grid of ${columns} by ${rows}`}
      style={lying(place)}
    >
      <span className="place-name">{place.name}</span>
      {place.grid?.shape === "hex" && (
        <svg className="hex-lines" viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
          <path d={hexLines(place.grid)} />
        </svg>
      )}
      {Array.from({ length: columns * rows }, (_, i) => {
        const cell = { column: i % columns, row: Math.floor(i / columns) };
        const id = `${place.id}/${cellName(cell)}`;
        const box = place.grid && cellBox(place.grid, cell);
        return (
          <span
            key={id}
            className={`cell ${place.grid?.shape === "hex" ? "hex" : ""} ${over === id ? "over" : ""} ${measured.includes(id) ? "measured" : ""}`}
            data-place={id}
            style={
              box && { left: `${box.left * 100}%`, width: `${box.wide * 100}%`, top: `${box.top * 100}%`, height: `${box.high * 100}%` }
            }
          >
            {cellName(cell)}
          </span>
        );
      })}
    </section>
  );
}
