// Asks that wait for me to answer, or for others to answer me.
import Button from "react-bootstrap/Button";
import { plural } from "../parts/plural";
import { find } from "./chosen";
import { useTable } from "./TableContext";
import "./Asks.css";

export function Asks() {
  const { view, chosen, act, canAct } = useTable();
  const name = (seat: number) => view.seats.find((s) => s.number === seat)?.name ?? `seat ${seat}`;
  return view.asks
    .filter((ask) => ask.to === view.you || ask.from === view.you)
    .map((ask) => {
      const cards = plural(ask.count, "card");
      if (ask.from === view.you) {
        return (
          <div key={ask.id} className="ask-row" role="status">
            You asked {name(ask.to)} {ask.for === "undo" ? "to agree to an undo" : `${ask.for === "peek" ? "to show" : "for"} ${cards}`}.
            <Button size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act({ do: "withdraw", ask: ask.id })}>
              Withdraw
            </Button>
          </div>
        );
      }
      if (ask.for === "undo") {
        return (
          <div key={ask.id} className="ask-row" role="alert">
            <span>
              {name(ask.from)} asks you to agree to an undo. It puts {cards} back into your hand, and somebody looked at where they lie now.
            </span>
            <Button size="sm" disabled={!canAct} onClick={() => void act({ do: "agree", ask: ask.id })}>
              Agree
            </Button>
            <Button size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act({ do: "decline", ask: ask.id })}>
              Decline
            </Button>
          </div>
        );
      }
      const mine = chosen.handles.filter((handle) => find(view, handle)?.place.id === ask.place);
      const fits = mine.length === ask.count;
      return (
        <div key={ask.id} className="ask-row" role="alert">
          <span>
            {name(ask.from)} asks you {ask.for === "peek" ? "to show" : "for"} {cards}. Choose in your hand, or let chance choose.
          </span>
          <Button size="sm" disabled={!canAct} onClick={() => void act({ do: "agree", ask: ask.id, ...(fits ? { cards: mine } : {}) })}>
            {fits ? "Agree, with what is chosen" : "Agree, by chance"}
          </Button>
          <Button size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act({ do: "decline", ask: ask.id })}>
            Decline
          </Button>
        </div>
      );
    });
}
