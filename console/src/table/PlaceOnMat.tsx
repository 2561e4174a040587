// A place as it lies on the mat: a pile, a row, or cards loose on the felt.
import type { Place } from "../api/client";
import { Veils, cardName } from "./CardFace";
import { choosePlace, nameOf } from "./chosen";
import { useDragging } from "./dragging";
import { HeldCard } from "./HeldCard";
import { useMeant } from "./meant";
import { useTable } from "./TableContext";

export function PlaceOnMat({ place }: { place: Place }) {
  return place.kind === "grid" ? <GridOnMat place={place} /> : <CardsOnMat place={place} />;
}

function CardsOnMat({ place }: { place: Place }) {
  const { view, chosen, choose } = useTable();
  const over = useDragging(({ dragging }) => dragging?.over === place.id);
  const meant = useMeant((s) => s.place === place.id);
  const owner = view.seats.find((s) => s.number === place.owner);
  const name = nameOf(view, place);
  const isChosen = chosen.place === place.id;
  const pickPlace = () => choose(choosePlace(chosen, place.id));
  const classes = ["place", `kind-${place.kind}`, over ? "over" : "", isChosen ? "chosen" : "", meant ? "meant" : "", place.count === 0 ? "empty" : ""];
  return (
    <section
      className={classes.join(" ")}
      data-place={place.id}
      aria-label={`${name}, ${place.count} cards`}
      style={{ "--x": place.x, "--y": place.y, "--place-wide": place.wide, "--place-high": place.high, "--seat": owner?.colour }}
    >
      {place.kind !== "loose" && place.kind !== "cell" && <span className="place-name">{owner ? owner.name || `seat ${owner.number}` : place.name}</span>}
      {place.kind === "row" ? <RowCards place={place} /> : <PileTop place={place} onChoose={pickPlace} name={name} />}
      {place.kind !== "row" && place.count > 1 && <span className="pile-count" aria-hidden="true">{place.count}</span>}
    </section>
  );
}

/** A grid with its free cells; cards on a cell are a place of their own. */
function GridOnMat({ place }: { place: Place }) {
  const over = useDragging(({ dragging }) => dragging?.over ?? null);
  const { columns = 1, rows = 1, shape } = place.grid ?? {};
  const hex = shape === "hex";
  const size = { wide: hex ? (columns - 1) * 0.75 + 1 : columns, high: rows + (hex && columns > 1 ? 0.5 : 0) };
  return (
    <section className="place kind-grid" data-place={place.id} aria-label={`${place.name}, grid of ${columns} by ${rows}`}
      style={{ "--x": place.x, "--y": place.y, "--place-wide": place.wide, "--place-high": place.high }}>
      <span className="place-name">{place.name}</span>
      {Array.from({ length: columns * rows }, (_, i) => {
        const column = i % columns;
        const row = Math.floor(i / columns);
        const id = `${place.id}/${cellName(column, row)}`;
        return (
          <span key={id} className={`cell ${hex ? "hex" : ""} ${over === id ? "over" : ""}`} data-place={id}
            style={{
              left: `${((hex ? column * 0.75 : column) / size.wide) * 100}%`, width: `${100 / size.wide}%`,
              top: `${((row + (hex && column % 2 ? 0.5 : 0)) / size.high) * 100}%`, height: `${100 / size.high}%`,
            }}>
            {cellName(column, row)}
          </span>
        );
      })}
    </section>
  );
}

/** Column letters and row number, B3, as core/grid writes them. */
function cellName(column: number, row: number): string {
  let letters = "";
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26)) letters = String.fromCharCode(65 + ((n - 1) % 26)) + letters;
  return `${letters}${row + 1}`;
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
  const top = place.cards?.[place.cards.length - 1];
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
