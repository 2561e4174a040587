// A room in its maker's list: what is played there, who are there, and what can be done.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { asMaker, given } from "../maker/maker";
import { askFor } from "../parts/Asking";
import { BringDeck } from "./BringDeck";
import { More } from "./More";
import { RoomDoor } from "./RoomDoor";
import { RoomLink } from "./RoomLink";
import { TakeEdition } from "./TakeEdition";
import { plural } from "../parts/plural";
import { ago, useDoing, type RoomRow } from "./shelf";
import "./RoomCard.css";

export function RoomCard({ room, onWrong }: { room: RoomRow; onWrong: (text: string) => void }) {
  const [shows, setShows] = useState(false);
  const [taking, setTaking] = useState(false);
  const [bringing, setBringing] = useState(false);
  const [atDoor, setAtDoor] = useState(false);
  const doing = useDoing(onWrong);
  const params = { path: { room: room.id } };
  const end = () =>
    askFor(
      {
        question: `End the game of ${room.name}?`,
        detail: "Nothing is done at its table any more, and anybody can check its shuffles. This cannot be taken back.",
        yes: "End it",
      },
      () => void doing(async () => given(await asMaker.POST("/api/rooms/{room}/end", { params }))),
    );
  const bookmark = () =>
    askFor(
      {
        question: "Keep this table as a bookmark?",
        detail: "Any number of rooms can begin from it, with free seats and everything where it lies now. Everybody in the room is told.",
        yes: "Keep it",
        line: room.name,
        most: 80,
      },
      (name) => void doing(async () => given(await asMaker.POST("/api/rooms/{room}/bookmarks", { params, body: { name } }))),
    );
  const remove = () =>
    askFor(
      {
        question: `Remove the room ${room.name}?`,
        detail: "Whoever is there is let go, and its link leads nowhere. For 30 days you can bring it back as it was.",
        yes: "Remove it",
      },
      () => void doing(async () => given(await asMaker.DELETE("/api/rooms/{room}", { params }))),
    );
  return (
    <article className="room-card" aria-label={`Room ${room.name}`}>
      <div className="room-card-line">
        <h3>
          <Link to={room.path}>{room.name}</Link>
        </h3>
        <span className={room.people > 0 ? "room-people" : "quiet"}>
          {room.people > 0 ? `${plural(room.people, "person", "people")} there` : "nobody there"}
        </span>
      </div>
      <p className="quiet room-facts">
        {room.kit_name && `${room.kit_name}, edition ${room.edition} · `}
        {plural(room.seats, "seat")}
        {room.passcode && " · passcode"} · {room.ended ? "ended" : `last act ${ago(room.last_at)}`}
      </p>
      <div className="kit-acts">
        {room.newest > room.edition && !room.ended && (
          <Button size="sm" onClick={() => setTaking(true)}>
            Take edition {room.newest} in
          </Button>
        )}
        <Link className="btn btn-sm btn-outline-primary" to={room.path}>
          {room.ended ? "Look at it" : "Go there"}
        </Link>
        <Button size="sm" variant="outline-secondary" aria-expanded={shows} onClick={() => setShows(!shows)}>
          Link
        </Button>
        <More
          id={room.id}
          of={room.name}
          acts={[
            !room.ended && ["Seats and door …", () => setAtDoor(true)],
            ["Bookmark …", bookmark],
            !room.ended && ["Bring a deck …", () => setBringing(true)],
            !room.ended && ["End the game …", end],
            ["Remove …", remove],
          ]}
        />
      </div>
      {shows && <RoomLink room={room} />}
      {taking && <TakeEdition room={room} edition={room.newest} onClose={() => setTaking(false)} />}
      {bringing && <BringDeck room={room} onClose={() => setBringing(false)} />}
      {atDoor && <RoomDoor room={room} onClose={() => setAtDoor(false)} />}
    </article>
  );
}
