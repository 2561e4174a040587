// Where somebody lands without a link: a maker at their shelf, anybody else at a door with
// the rooms they sit in, kits that are listed, and a box for a link.
import { useQueries } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import { service } from "../api/service";
import { keyIn, comeIn, useBroughtKey, useMaker } from "../maker/maker";
import { keptRooms } from "../room/seatKey";
import { KitCard } from "../shelf/KitCard";
import { useListedKits } from "../shelf/shelf";
import { ShelfPage } from "./ShelfPage";
import "./doorway.css";

export function StartPage() {
  const { key } = useMaker();
  useBroughtKey();
  return key ? <ShelfPage /> : <Door />;
}

function Door() {
  const [link, setLink] = useState("");
  const [problem, setProblem] = useState("");
  const navigate = useNavigate();
  const listed = useListedKits();
  const open = (event: FormEvent) => {
    event.preventDefault();
    const maker = keyIn(link);
    if (maker) {
      comeIn(maker);
      return;
    }
    const page = /^.*\/(room|kit)\/([^/?#\s]+)/.exec(link);
    void navigate(page ? `/${page[1]}/${page[2]}` : `/room/${encodeURIComponent(link.trim())}`);
  };
  return (
    <main className="doorway">
      <section className="doorway-sheet" aria-labelledby="start">
        <h1 id="start">Damselfly</h1>
        <p>A shared card table that knows no game&rsquo;s rules. Open the link you were sent, or paste it here.</p>
        <Form onSubmit={open}>
          <Form.Group controlId="link" className="mb-3">
            <Form.Label>Link or room</Form.Label>
            <Form.Control value={link} onChange={(e) => setLink(e.target.value)} autoFocus />
          </Form.Group>
          <Button type="submit" disabled={link.trim() === ""}>
            Go there
          </Button>
        </Form>
        <SeatedIn />
        <p className="quiet mt-4 mb-0">
          Do you make games? Open the link that you were sent as a maker, and your shelf stands here; until then you can look sheets over
          and make decks <Link to="/bench">at the bench</Link>. Builders find every call <a href={`${service}/api/docs`}>described here</a>.
        </p>
      </section>
      {(listed.data?.length ?? 0) > 0 && (
        <section className="doorway-kits" aria-labelledby="listed">
          <h2 id="listed">Kits to look at</h2>
          {problem && (
            <Alert variant="warning" role="alert">
              {problem}
            </Alert>
          )}
          <div className="kit-grid">
            {listed.data?.map((k) => (
              <KitCard key={k.id} kit={k} onWrong={setProblem} />
            ))}
          </div>
        </section>
      )}
    </main>
  );
}

/** The rooms that this browser has a seat in. */
function SeatedIn() {
  const [seats] = useState(keptRooms);
  const rooms = useQueries({
    queries: seats.map((seat) => ({
      queryKey: ["room", seat.room],
      queryFn: async () => (await api.GET("/api/rooms/{room}", { params: { path: { room: seat.room } } })).data ?? null,
    })),
  });
  const there = rooms.flatMap(({ data }, i) => (data ? [{ room: data, seat: seats[i] }] : []));
  if (there.length === 0) return null;
  return (
    <div className="mt-4">
      <h2 className="h6">Where you sit</h2>
      <ul className="mb-0">
        {there.map(({ room, seat }) => (
          <li key={room.id}>
            <Link to={room.path}>{room.name}</Link> <span className="quiet">{seat?.name ? `as ${seat.name}` : "watching"}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
