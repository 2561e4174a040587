// Where the others point, each in their colour and with their name, and what they drag,
// as far as one sees it lie.
import type { View } from "../api/client";
import { CardFace } from "./CardFace";
import { find } from "./chosen";
import { useTablePart } from "./TableContext";
import "./Pointers.css";

export function Pointers() {
  const view = useTablePart((t) => t.view);
  const grips = useTablePart((t) => t.grips);
  const usePoints = useTablePart((t) => t.usePoints);
  const points = usePoints();
  return (
    <>
      {view.seats
        .filter((s) => s.number !== view.you && points[s.number])
        .map((s) => (
          <span
            key={s.number}
            className="pointer"
            aria-hidden="true"
            style={{ "--seat": s.colour, "--x": points[s.number]?.x, "--y": points[s.number]?.y }}
          >
            <Dragged view={view} handles={grips[s.number] ?? []} />
            <svg width="18" height="22" viewBox="0 0 18 22">
              <path d="M1 1 L16 12 L9 13 L6 21 Z" />
            </svg>
            {s.name}
          </span>
        ))}
    </>
  );
}

/** The first of the cards that somebody drags; none where one does not see them lie. */
function Dragged({ view, handles: [first] }: { view: View; handles: string[] }) {
  const held = first ? find(view, first) : null;
  return (
    held && (
      <span className="pointer-card">
        <CardFace card={held.card} deck={view.decks.find((d) => d.key === held.card.face.deck)} />
      </span>
    )
  );
}
