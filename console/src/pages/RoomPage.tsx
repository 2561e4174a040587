// A room: its entrance until one has a seat, then its table.
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import type { Joined } from "../api/client";
import { RoomConnection } from "../room/live";
import { broughtSeat, forgetSeat, keepSeat, keptSeat } from "../room/seatKey";
import { TablePage } from "./TablePage";
import { EntrancePage } from "./EntrancePage";

export function RoomPage() {
  const room = useParams().room ?? "";
  const [joined, setJoined] = useState<Joined | null>(() => broughtSeat(room) ?? keptSeat(room));
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
  const [connection] = useState(() => new RoomConnection(joined));
  useEffect(() => {
    connection.start();
    return () => connection.stop();
  }, [connection]);
  return <TablePage connection={connection} onGone={onGone} />;
}
