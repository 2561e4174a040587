// A room: its entrance until one has a seat, then its table.
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import type { Joined } from "../api/client";
import { askFor } from "../parts/Asking";
import { RoomConnection } from "../room/live";
import { broughtSeat, forgetSeat, keepSeat, keptSeat } from "../room/seatKey";
import { TablePage } from "./TablePage";
import { EntrancePage } from "./EntrancePage";

export function RoomPage() {
  const room = useParams().room ?? "";
  const [joined, setJoined] = useState<Joined | null>(() => keptSeat(room));
  useEffect(() => {
    const brought = broughtSeat(room);
    if (!brought || brought.key === keptSeat(room)?.key) return;
    const take = () => {
      keepSeat(brought);
      setJoined(brought);
    };
    if (!keptSeat(room)) take();
    else
      askFor(
        {
          question: "Take the seat that this link brings?",
          detail: "You sit in this room already. The key to that seat, which only this browser keeps, would be forgotten.",
          yes: "Take it",
        },
        take,
      );
  }, [room]);
  if (!joined) {
    const enter = (fresh: Joined) => {
      keepSeat(fresh);
      setJoined(fresh);
    };
    return <EntrancePage room={room} onJoined={enter} />;
  }
  const leave = () => {
    forgetSeat(room);
    setJoined(null);
  };
  return <Seated key={joined.key} joined={joined} onGone={leave} />;
}

/** Keeps the connection for as long as somebody is seated. */
function Seated({ joined, onGone }: { joined: Joined; onGone: () => void }) {
  const [connection] = useState(() => new RoomConnection(joined, askToConfirm));
  useEffect(() => {
    connection.start();
    return () => connection.stop();
  }, [connection]);
  return <TablePage connection={connection} onGone={onGone} />;
}

/** Asks before the steps of a cue do what only this seat can see. */
function askToConfirm(text: string, then: () => void) {
  askFor(
    { question: "Do these steps?", detail: `They would show, give or move cards that only you see:\n\n${text}`, yes: "Do them" },
    then,
  );
}
