// What is seen of a drag: the card under the pointer, and what letting go would do.
import { CardFace } from "./CardFace";
import { useDragging } from "./dragging";
import "./DragGhost.css";

export function DragGhost({ millimetre }: { millimetre: number }) {
  const dragging = useDragging((s) => s.dragging);
  if (!dragging?.card) return null;
  const springing = dragging.state === "springing";
  const x = springing ? dragging.startX : dragging.x;
  const y = springing ? dragging.startY : dragging.y;
  return (
    <div
      className={`ghost ${dragging.state}`}
      style={{ "--mm": `${millimetre}px`, transform: `translate(${x}px, ${y}px)` }}
      aria-hidden="true"
    >
      <CardFace card={dragging.card} deck={dragging.deck} />
      {dragging.handles.length > 1 && <span className="pile-count">{dragging.handles.length}</span>}
      {dragging.state === "moving" && <span className="ghost-hint">{dragging.drop?.hint ?? "back where it was"}</span>}
    </div>
  );
}
