import type { Seat, View } from "../api/client";

/** The seats with their players and how many cards each has in hand. */
export function Seats({ view, here, onAsk }: { view: View; here: number[]; onAsk: (seat: Seat) => void }) {
  return (
    <ul className="seats" aria-label="Seats">
      {view.seats.map((seat) => (
        <li key={seat.number} className={`seat ${seat.number === view.you ? "you" : ""}`} style={{ "--seat": seat.colour }}>
          <span className={`seat-here ${here.includes(seat.number) ? "on" : ""}`} />
          <span className="seat-name">{seat.name || `seat ${seat.number}, free`}{seat.number === view.you && " (you)"}</span>
          {seat.name && <span className="seat-cards">{inHand(view, seat)}</span>}
          {view.marker.seat === seat.number && <span className="turn">has the turn</span>}
          {seat.name && seat.number !== view.you && view.you > 0 && !inHand(view, seat).startsWith("0") && (
            <button type="button" className="seat-ask" onClick={() => onAsk(seat)} aria-label={`Ask ${seat.name} for a card`}>ask</button>
          )}
          <span className="visually-hidden">{seat.name && (here.includes(seat.number) ? "connected" : "away")}</span>
        </li>
      ))}
    </ul>
  );
}

function inHand(view: View, seat: Seat): string {
  const count = view.places.filter((p) => p.kind === "hand" && p.owner === seat.number).reduce((n, p) => n + p.count, 0);
  return count === 1 ? "1 card" : `${count} cards`;
}
