// Where the others point, each in their colour and with their name.
import { useTable } from "./TableContext";

export function Pointers() {
  const { view, points } = useTable();
  return (
    <>
      {view.seats.filter((s) => s.number !== view.you && points[s.number]).map((s) => (
        <span key={s.number} className="pointer" aria-hidden="true" style={{ "--seat": s.colour, "--x": points[s.number]?.x, "--y": points[s.number]?.y }}>
          <svg width="18" height="22" viewBox="0 0 18 22"><path d="M1 1 L16 12 L9 13 L6 21 Z" /></svg>{s.name}
        </span>
      ))}
    </>
  );
}
