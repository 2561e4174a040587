// What I am looking at, in a tray that only I see; the topmost card first.
import Button from "react-bootstrap/Button";
import { plural } from "../parts/plural";
import { nameOf } from "./chosen";
import { HeldCard } from "./HeldCard";
import { elementOf } from "./moves";
import { useTable } from "./TableContext";
import "./PeekTray.css";

export function PeekTray() {
  const { view, chosen, act, canAct } = useTable();
  return view.places
    .filter((p) => p.looker === view.you && view.you > 0)
    .map((place) => {
      const cards = [...(place.cards ?? [])].reverse();
      const picked = cards.map((c) => c.handle).filter((handle) => chosen.handles.includes(handle));
      return (
        <section key={place.id} className="peek-tray" aria-label={`You look at ${plural(cards.length, "card")} of ${nameOf(view, place)}`}>
          <strong>Top of {nameOf(view, place)}</strong>
          <div id={elementOf(place.id, true)} className="peek-cards" data-tray={place.id}>
            {cards.map((card) => (
              <HeldCard key={card.handle} card={card} place={place.id} deck={view.decks.find((d) => d.key === card.face.deck)} />
            ))}
          </div>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAct || picked.length !== 1 || picked[0] === cards[0]?.handle}
            aria-label="Chosen one up"
            onClick={() =>
              void act({
                do: "reorder",
                place: place.id,
                top: oneUp(
                  cards.map((c) => c.handle),
                  picked[0] ?? "",
                ).reverse(),
              })
            }
          >
            Up
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAct || picked.length === 0}
            onClick={() => void act({ do: "reorder", place: place.id, top: [...picked].reverse() })}
          >
            Chosen on top
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAct || picked.length === 0}
            onClick={() => void act({ do: "reorder", place: place.id, under: picked })}
          >
            Chosen underneath
          </Button>
          <Button size="sm" disabled={!canAct} onClick={() => void act({ do: "close", place: place.id })}>
            Close
          </Button>
        </section>
      );
    });
}

/** The order in which a card has changed places with the one before it. */
function oneUp(order: string[], handle: string): string[] {
  const at = order.indexOf(handle);
  const before = order[at - 1];
  return before === undefined ? order : order.map((h, i) => (i === at ? before : i === at - 1 ? handle : h));
}
