// The seats with their players, how many cards each has in hand, and what can be
// done with a seat.
import { useCallback, useState } from "react";
import { plural } from "../parts/plural";
import { api, sentence, type Action, type Joined, type Seat, type View } from "../api/client";
import { service } from "../api/service";
import { askFor } from "../parts/Asking";
import { Menu, type Item, type MenuAt } from "./Menu";
import { useTable } from "./TableContext";
import "./Seats.css";

export function Seats({ here, onAsk }: { here: number[]; onAsk: (seat: Seat) => void }) {
  const { view, act, canAct, seat: mine } = useTable();
  const [menu, setMenu] = useState<{ at: MenuAt; seat: Seat } | null>(null);
  const close = useCallback(() => setMenu(null), []);
  return (
    <>
      <ul className="seats" aria-label="Seats">
        {view.seats.map((seat) => (
          <li key={seat.number} className={`seat ${seat.number === view.you ? "you" : ""}`} style={{ "--seat": seat.colour }}>
            <span className={`seat-here ${here.includes(seat.number) ? "on" : ""}`} />
            <button
              type="button"
              className="seat-name"
              disabled={!canAct}
              aria-haspopup="menu"
              onClick={(e) => {
                const r = e.currentTarget.getBoundingClientRect();
                setMenu({ at: { x: r.left, y: r.bottom + 4 }, seat });
              }}
            >
              {seat.name || `seat ${seat.number}, free`}
              {seat.number === view.you && " (you)"}
            </button>
            {seat.name && <span className="seat-cards">{inHand(view, seat)}</span>}
            {view.marker.seat === seat.number && <span className="turn">has the turn</span>}
            {seat.name && seat.number !== view.you && view.you > 0 && !inHand(view, seat).startsWith("0") && (
              <button type="button" className="seat-ask" onClick={() => onAsk(seat)} aria-label={`Ask ${seat.name} for a card`}>
                ask
              </button>
            )}
            <span className="visually-hidden">{seat.name && (here.includes(seat.number) ? "connected" : "away")}</span>
          </li>
        ))}
      </ul>
      <Menu
        at={menu?.at ?? null}
        label="What to do with the seat"
        items={
          menu
            ? seatItems(
                view,
                menu.seat,
                (action) => void act(action),
                (name) => void handOn(mine, menu.seat, name),
              )
            : []
        }
        onClose={close}
      />
    </>
  );
}

/** What can be done with a seat: one's own, another's, and by the host. */
export function seatItems(view: View, seat: Seat, act: (action: Action) => void, giveOn: (name: string) => void): Item[] {
  const items: Item[] = [];
  const mine = seat.number === view.you;
  const host = view.settings.host === view.you;
  const who = seat.name || `seat ${seat.number}`;
  if (mine) {
    items.push({
      label: "Change my name",
      run: () => askFor({ question: "Your name", line: seat.name ?? "", yes: "Change it" }, (name) => act({ do: "rename", name })),
    });
    items.push({ label: "Change my colour", run: () => pickColour(seat.colour, (colour) => act({ do: "rename", colour })) });
  }
  if (!seat.name)
    items.push({
      label: "Move to this seat",
      run: () =>
        askFor(
          { question: `Move to seat ${seat.number}?`, detail: "Your hand and what else belongs to your seat stays there.", yes: "Move" },
          () => act({ do: "change-seat", to: seat.number }),
        ),
    });
  if (seat.name) {
    items.push({ label: `Give ${mine ? "me" : who} the turn`, run: () => act({ do: "pass", to: seat.number }) });
    for (const piece of view.pieces.filter((p) => p.kind === "marker" && p.seat !== seat.number)) {
      items.push({
        label: `Hand ${piece.name} to ${mine ? "me" : who}`,
        run: () => act({ do: "hand", piece: piece.id, seat: seat.number }),
      });
    }
    items.push({ label: `${mine ? "I begin" : `${who} begins`}`, run: () => act({ do: "first", seat: seat.number }) });
  }
  items.push({ label: "Choose who begins by chance", run: () => act({ do: "first" }) });
  items.push({ label: "Let turns go round the other way", run: () => act({ do: "turn-round" }) });
  if (!seat.name || (!mine && !host)) return items;
  if (host && !mine)
    items.push({
      label: `Give ${who} the room's keys`,
      run: () =>
        askFor({ question: `Give ${who} the room's keys?`, detail: `${who} is then the host, and you are not.`, yes: "Give them" }, () =>
          act({ do: "keys", seat: seat.number }),
        ),
    });
  items.push({
    label: "Hand the seat on to somebody else",
    run: () =>
      askFor(
        {
          question: "Who gets the seat?",
          detail: `With its hand and all that belongs to it. ${mine ? "You have" : `${who} has`} it no more then; you get a link to send.`,
          line: "",
          yes: "Hand it on",
        },
        giveOn,
      ),
  });
  const detail = mine
    ? "Its cards stay, and somebody else can take it."
    : `Its cards stay, and ${who} has to join anew. Lock the room to keep them out.`;
  items.push({
    label: mine ? "Leave my seat" : "Free the seat",
    run: () =>
      askFor({ question: mine ? "Leave your seat?" : `Free the seat of ${who}?`, detail, yes: mine ? "Leave" : "Free it" }, () =>
        act({ do: "free", seat: seat.number }),
      ),
  });
  return items;
}

/** Hands a seat on and shows the link that opens it. */
async function handOn(mine: Joined, seat: Seat, name: string): Promise<void> {
  const { data, error } = await api.POST("/api/rooms/{room}/hand-on", {
    params: { path: { room: mine.room } },
    headers: { Authorization: `Bearer ${mine.key}` },
    body: { seat: seat.number, name },
  });
  if (!data) {
    askFor({ question: "The seat was not handed on", detail: sentence(error), yes: "Well" }, () => undefined);
    return;
  }
  const link = `${service}/room/${data.room}#seat=${data.key}`;
  askFor(
    { question: `Send ${name} this link`, detail: "It opens the seat, for whoever has it alone.", line: link, most: 400, yes: "Copy it" },
    () => void navigator.clipboard?.writeText(link),
  );
}

/** Asks for a colour with the browser's own picker. */
function pickColour(now: string, then: (colour: string) => void): void {
  const input = document.createElement("input");
  input.type = "color";
  input.value = now;
  input.onchange = () => then(input.value);
  input.click();
}

function inHand(view: View, seat: Seat): string {
  const count = view.places.filter((p) => p.kind === "hand" && p.owner === seat.number).reduce((n, p) => n + p.count, 0);
  return plural(count, "card");
}
