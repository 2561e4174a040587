// One's own hand along the bottom: private, and in one's own order.
import { plural } from "../parts/plural";
import type { Place } from "../api/client";
import { HeldCard } from "./HeldCard";
import { useDragging } from "./dragging";
import { elementOf } from "./moves";
import { useTablePart } from "./TableContext";
import "./Hand.css";

export function Hand({ place }: { place: Place }) {
  const over = useDragging(({ dragging }) => dragging?.over === place.id);
  const decks = useTablePart((t) => t.view.decks);
  const cards = place.cards ?? [];
  return (
    <section
      id={elementOf(place.id)}
      className={`hand ${over ? "over" : ""}`}
      data-place={place.id}
      aria-label={`My hand, ${plural(place.count, "card")}`}
    >
      <span className="place-name">My hand</span>
      {cards.length === 0 ? (
        <p className="quiet hand-empty">Drag cards here. Only you will see them.</p>
      ) : (
        <div className="hand-cards" style={{ "--cards": cards.length }}>
          {cards.map((card) => (
            <HeldCard key={card.handle} card={card} place={place.id} deck={decks.find((d) => d.key === card.face.deck)} />
          ))}
        </div>
      )}
    </section>
  );
}
