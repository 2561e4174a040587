// A place as it lies on the mat: a pile, a row, or cards loose on the felt.
import type { Place } from "../api/client";
import { Veils, cardName } from "./CardFace";
import { choosePlace, nameOf } from "./chosen";
import { useDragging } from "./dragging";
import { HeldCard } from "./HeldCard";
import { useTable } from "./TableContext";

export function PlaceOnMat({ place }: { place: Place }) {
  const { view, chosen, choose } = useTable();
  const over = useDragging(({ dragging }) => dragging?.over === place.id);
  const owner = view.seats.find((s) => s.number === place.owner);
  const name = nameOf(view, place);
  const isChosen = chosen.place === place.id;
  const pickPlace = () => choose(choosePlace(chosen, place.id));
  const classes = ["place", `kind-${place.kind}`, over ? "over" : "", isChosen ? "chosen" : "", place.count === 0 ? "empty" : ""];
  return (
    <section
      className={classes.join(" ")}
      data-place={place.id}
      aria-label={`${name}, ${place.count} cards`}
      style={{ "--x": place.x, "--y": place.y, "--place-wide": place.wide, "--place-high": place.high, "--seat": owner?.colour }}
    >
      {place.kind !== "loose" && <span className="place-name">{owner ? owner.name || `seat ${owner.number}` : place.name}</span>}
      {place.kind === "row" ? <RowCards place={place} /> : <PileTop place={place} onChoose={pickPlace} name={name} />}
      {place.kind !== "row" && place.count > 1 && <span className="pile-count" aria-hidden="true">{place.count}</span>}
    </section>
  );
}

function RowCards({ place }: { place: Place }) {
  const { view } = useTable();
  const cards = place.cards ?? [];
  const step = place.step ?? 0;
  return (
    <>
      {cards.map((card, i) => (
        <HeldCard key={card.handle} card={card} place={place} style={{ "--along": (i - (cards.length - 1) / 2) * step }} />
      ))}
      {place.veils && <div className="veils"><Veils place={place} decks={view.decks} most={5} /></div>}
    </>
  );
}

function PileTop({ place, onChoose, name }: { place: Place; onChoose: () => void; name: string }) {
  const { view } = useTable();
  const top = place.cards?.[0];
  const depth = Math.min(place.count - 1, 4);
  return (
    <>
      {Array.from({ length: depth }, (_, i) => <span key={i} className="under-card" style={{ "--level": depth - i }} />)}
      {top && (
        <HeldCard card={top} place={place} onChoose={place.count > 1 ? onChoose : undefined}
          label={place.count > 1 ? `${name}, ${place.count} cards, on top ${cardName(top)}` : cardName(top)} />
      )}
      {!top && place.veils && (
        <button type="button" className="veiled-pile" onClick={onChoose} aria-label={`${name}, ${place.count} cards, hidden`}>
          <Veils place={place} decks={view.decks} most={1} />
        </button>
      )}
    </>
  );
}
