// A grid with its free cells; cards on a cell are a place of their own.
import type { Place } from "../api/client";
import { cellName } from "./cells";
import { useDragging } from "./dragging";
import { lying } from "./lying";
import { useMeasuring } from "./measuring";

export function GridOnMat({ place }: { place: Place }) {
  const over = useDragging(({ dragging }) => dragging?.over ?? null);
  const measured = useMeasuring((s) => s.cells);
  const { columns = 1, rows = 1, shape } = place.grid ?? {};
  const hex = shape === "hex";
  const size = { wide: hex ? (columns - 1) * 0.75 + 1 : columns, high: rows + (hex && columns > 1 ? 0.5 : 0) };
  return (
    <section className="place kind-grid" data-place={place.id} aria-label={`${place.name}, grid of ${columns} by ${rows}`} style={lying(place)}>
      <span className="place-name">{place.name}</span>
      {Array.from({ length: columns * rows }, (_, i) => {
        const column = i % columns;
        const row = Math.floor(i / columns);
        const id = `${place.id}/${cellName({ column, row })}`;
        return (
          <span key={id} className={`cell ${hex ? "hex" : ""} ${over === id ? "over" : ""} ${measured.includes(id) ? "measured" : ""}`} data-place={id}
            style={{
              left: `${((hex ? column * 0.75 : column) / size.wide) * 100}%`, width: `${100 / size.wide}%`,
              top: `${((row + (hex && column % 2 ? 0.5 : 0)) / size.high) * 100}%`, height: `${100 / size.high}%`,
            }}>
            {cellName({ column, row })}
          </span>
        );
      })}
    </section>
  );
}
