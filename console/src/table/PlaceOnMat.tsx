// A place as it lies on the mat: a pile, a row, somebody's hand, or cards loose on the felt.
import { memo, useCallback } from "react";
import { plural } from "../parts/plural";
import type { Place } from "../api/client";
import { Veils, cardName } from "./CardFace";
import { choosePlace, nameOf } from "./chosen";
import { useDragging } from "./dragging";
import { GridOnMat } from "./GridOnMat";
import { HeldCard } from "./HeldCard";
import { lying } from "./lying";
import { useMeant } from "./meant";
import { elementOf } from "./moves";
import { useTableNow, useTablePart } from "./TableContext";
import "./PlaceOnMat.css";

export const PlaceOnMat = memo(function PlaceOnMat({ place }: { place: Place }) {
  return place.kind === "grid" ? <GridOnMat place={place} /> : <CardsOnMat place={place} />;
});

function CardsOnMat({ place }: { place: Place }) {
  const now = useTableNow();
  const over = useDragging(({ dragging }) => dragging?.over === place.id);
  const end = useDragging(({ dragging }) => (dragging?.over === place.id && dragging.drop?.under ? "under" : ""));
  const meant = useMeant((s) => s.place === place.id);
  const owner = useTablePart(({ view }) => view.seats.find((s) => s.number === place.owner));
  const name = useTablePart(({ view }) => nameOf(view, place));
  const isChosen = useTablePart(({ chosen }) => chosen.place === place.id);
  const player = useTablePart(({ view, last }) => (last?.place === place.id ? view.seats.find((s) => s.number === last.seat) : undefined));
  const pickPlace = useCallback(() => now().choose(choosePlace(now().chosen, place.id)), [now, place.id]);
  const classes = [
    "place",
    `kind-${place.kind}`,
    over ? "over" : "",
    end,
    isChosen ? "chosen" : "",
    meant ? "meant" : "",
    place.count === 0 ? "empty" : "",
    player ? "last" : "",
  ];
  const spread = place.kind === "row" || place.kind === "hand";
  return (
    <section
      id={elementOf(place.id)}
      className={classes.join(" ")}
      data-place={place.id}
      data-turn={place.turn}
      aria-label={`${name}, ${plural(place.count, "card")}`}
      style={{
        ...lying(place),
        "--seat": (player ?? owner)?.colour,
        "--n": spread ? (place.cards?.length ?? 0) : undefined,
        "--step": place.step,
      }}
    >
      {place.kind !== "loose" && place.kind !== "cell" && (
        <span className="place-name">{owner ? `${owner.name || `seat ${owner.number}`}: ${place.name}` : place.name}</span>
      )}
      {spread ? <RowCards place={place} /> : <PileTop place={place} onChoose={pickPlace} name={name} />}
      {(place.kind === "hand" || !spread) && place.count > 1 && (
        <span className="pile-count" aria-hidden="true">
          {place.count}
        </span>
      )}
      {player && <span className="last-by">{player.name}</span>}
    </section>
  );
}

function RowCards({ place }: { place: Place }) {
  const decks = useTablePart(({ view }) => view.decks);
  const cards = place.cards ?? [];
  return (
    <>
      {cards.map((card, i) => (
        <HeldCard key={card.handle} card={card} place={place.id} deck={decks.find((d) => d.key === card.face.deck)} index={i} />
      ))}
      {place.veils && (
        <div className="veils">
          <Veils place={place} decks={decks} most={5} />
        </div>
      )}
    </>
  );
}

function PileTop({ place, onChoose, name }: { place: Place; onChoose: () => void; name: string }) {
  const decks = useTablePart(({ view }) => view.decks);
  const top = place.cards?.[place.cards.length - 1];
  const depth = Math.min(place.count - 1, 4);
  return (
    <>
      {Array.from({ length: depth }, (_, i) => (
        <span
          key={i}
          className={`under-card ${decks.find((d) => d.key === top?.face.deck)?.outline ?? ""}`}
          style={{ "--level": depth - i }}
        />
      ))}
      {top && (
        <HeldCard
          card={top}
          place={place.id}
          deck={decks.find((d) => d.key === top.face.deck)}
          onChoose={place.count > 1 ? onChoose : undefined}
          label={place.count > 1 ? `${name}, ${plural(place.count, "card")}, on top ${cardName(top)}` : cardName(top)}
        />
      )}
      {!top && place.veils && (
        <button type="button" className="veiled-pile" onClick={onChoose} aria-label={`${name}, ${plural(place.count, "card")}, hidden`}>
          <Veils place={place} decks={decks} most={1} />
        </button>
      )}
    </>
  );
}
