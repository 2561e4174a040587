import type { Card, Deck, Place } from "../api/client";
import { usePicture } from "../api/pictures";
import "./CardFace.css";

/** A card's picture in its outline, in millimetres of the table. */
export function CardFace({ card, deck }: { card: Card; deck: Deck | undefined }) {
  const src = usePicture(card.face.picture, "small");
  return (
    <img
      className={`card-face ${deck?.outline ?? "rounded"}`}
      src={src}
      alt=""
      decoding="async"
      draggable={false}
      style={{ "--wide": deck?.wide ?? 63, "--high": deck?.high ?? 88, rotate: card.turn ? `${card.turn}deg` : undefined }}
    />
  );
}

/** What a card is called by whoever sees it. */
export function cardName(card: Card): string {
  return card.face.side === "front" ? (card.face.name ?? card.face.deck) : `${card.face.deck} card, face down`;
}

/** The veils of cards that may not be told apart, in no order. */
export function Veils({ place, decks, most }: { place: Place; decks: Deck[]; most: number }) {
  const all = (place.veils ?? []).flatMap((veil) =>
    Array.from({ length: Math.min(veil.count, most) }, (_, i) => ({ veil, key: `${veil.face.picture} ${i}` })),
  );
  return all.slice(0, most).map(({ veil, key }) => {
    const deck = decks.find((d) => d.key === veil.face.deck);
    return <VeilFace key={key} picture={veil.face.picture} deck={deck} />;
  });
}

function VeilFace({ picture, deck }: { picture: string; deck: Deck | undefined }) {
  const src = usePicture(picture, "small");
  return (
    <img
      className={`card-face ${deck?.outline ?? "rounded"}`}
      src={src}
      alt=""
      draggable={false}
      style={{ "--wide": deck?.wide ?? 63, "--high": deck?.high ?? 88 }}
    />
  );
}
