// Where the others point, each in their colour and with their name.
import { useTablePart } from "./TableContext";

export function Pointers() {
  const seats = useTablePart((t) => t.view.seats);
  const you = useTablePart((t) => t.view.you);
  const usePoints = useTablePart((t) => t.usePoints);
  const points = usePoints();
  return (
    <>
      {seats.filter((s) => s.number !== you && points[s.number]).map((s) => (
        <span key={s.number} className="pointer" aria-hidden="true" style={{ "--seat": s.colour, "--x": points[s.number]?.x, "--y": points[s.number]?.y }}>
          <svg width="18" height="22" viewBox="0 0 18 22"><path d="M1 1 L16 12 L9 13 L6 21 Z" /></svg>{s.name}
        </span>
      ))}
    </>
  );
}
