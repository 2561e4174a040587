// The entrance of a room: who sits where, choose a seat and a name, or watch.
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Spinner from "react-bootstrap/Spinner";
import { api, sentence, type Joined, type Room } from "../api/client";
import { limits } from "../api/tables.gen";
import { joinId } from "../room/seatKey";
import "./doorway.css";
import "./EntrancePage.css";

export function EntrancePage({ room, onJoined }: { room: string; onJoined: (joined: Joined) => void }) {
  const { data, error, isPending } = useQuery({
    queryKey: ["room", room],
    queryFn: async () => {
      const { data, error } = await api.GET("/api/rooms/{room}", { params: { path: { room } } });
      if (!data) throw new Error(sentence(error));
      return data;
    },
    refetchInterval: 5000,
  });
  return (
    <main className="doorway">
      <section className="doorway-sheet" aria-live="polite">
        {isPending && <Spinner role="status" aria-label="Looking for the room" />}
        {error && !data && (
          <>
            <h1>No way in</h1>
            <p role="alert">{error instanceof TypeError ? sentence(undefined) : error.message}</p>
          </>
        )}
        {data && <ChooseSeat room={data} onJoined={onJoined} />}
      </section>
    </main>
  );
}

function ChooseSeat({ room, onJoined }: { room: Room; onJoined: (joined: Joined) => void }) {
  const [name, setName] = useState("");
  const [passcode, setPasscode] = useState("");
  const [chosen, setChosen] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const free = room.seats.filter((seat) => !seat.name);
  // A chosen seat that somebody else took meanwhile falls back to a free one.
  const seat = free.find((s) => s.number === chosen)?.number ?? free[0]?.number ?? 0;

  const join = async (watch: boolean) => {
    setBusy(true);
    const salt = crypto.getRandomValues(new Uint32Array(4)).join("-");
    const id = joinId(room.id);
    const body = watch ? { watch, passcode, id } : { name, seat, passcode, salt, id };
    const { data, error } = await api.POST("/api/rooms/{room}/join", { params: { path: { room: room.id } }, body });
    setBusy(false);
    if (data) onJoined(data);
    else setProblem(sentence(error));
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void join(false);
  };

  return (
    <Form onSubmit={submit}>
      <h1>{room.name}</h1>
      <p className="quiet">{room.about || room.kit}</p>
      <fieldset className="mb-3">
        <legend>Choose a seat</legend>
        <div className="seat-choices">
          {room.seats.map((s) => (
            <label
              key={s.number}
              className={`seat-choice ${s.name ? "taken" : ""} ${seat === s.number ? "picked" : ""}`}
              style={{ "--seat": s.colour }}
            >
              <Form.Check.Input
                type="radio"
                name="seat"
                value={s.number}
                disabled={!!s.name}
                checked={seat === s.number}
                onChange={() => setChosen(s.number)}
              />
              <span className="seat-number">{s.number}</span>
              <span>{s.name ? (room.passcode ? "taken" : `${s.name} sits here`) : "free"}</span>
            </label>
          ))}
        </div>
        {free.length === 0 && <p className="mt-2 mb-0">Every seat is taken.{room.spectators && " You can watch."}</p>}
      </fieldset>
      <Form.Group controlId="name" className="mb-3">
        <Form.Label>Your name</Form.Label>
        <Form.Control value={name} maxLength={limits.name} onChange={(e) => setName(e.target.value)} autoComplete="nickname" autoFocus />
      </Form.Group>
      {room.passcode && (
        <Form.Group controlId="passcode" className="mb-3">
          <Form.Label>Passcode</Form.Label>
          <Form.Control type="password" value={passcode} maxLength={64} onChange={(e) => setPasscode(e.target.value)} />
        </Form.Group>
      )}
      {problem && (
        <Alert variant="warning" role="alert">
          {problem}
        </Alert>
      )}
      <div className="d-flex gap-2">
        <Button type="submit" disabled={busy || seat === 0 || name.trim() === ""}>
          Sit down
        </Button>
        {room.spectators && (
          <Button variant="outline-secondary" disabled={busy} onClick={() => void join(true)}>
            Watch
          </Button>
        )}
      </div>
    </Form>
  );
}
