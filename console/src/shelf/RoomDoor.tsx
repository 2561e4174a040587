// Keeping order at a room of one's own, without a seat there: who sits where, who is its host, its passcode, and the pages of others
// that may show it.
import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import InputGroup from "react-bootstrap/InputGroup";
import Modal from "react-bootstrap/Modal";
import type { Room } from "../api/client";
import { asMaker, given, useMaker } from "../maker/maker";
import { useDoing } from "./shelf";
import "./RoomDoor.css";

/** Does something at the room, and says what came of it. */
type Doing = (what: () => Promise<unknown>, said: string) => Promise<void>;

export function RoomDoor({ room, onClose }: { room: { id: string; name: string }; onClose: () => void }) {
  const { key } = useMaker();
  const seen = useQuery({
    queryKey: ["door", key, room.id],
    queryFn: async () => given(await asMaker.GET("/api/rooms/{room}", { params: { path: { room: room.id } } })),
  });
  const [told, setTold] = useState<{ text: string; wrong: boolean } | null>(null);
  const tried = useDoing((text) => setTold({ text, wrong: true }));
  const doing: Doing = (what, said) =>
    tried(async () => {
      await what();
      await seen.refetch();
      setTold({ text: said, wrong: false });
    });
  return (
    <Modal show onHide={onClose} aria-labelledby="room-door" centered>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="room-door">
          Seats and door of {room.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {seen.error && <Alert variant="warning">{seen.error.message}</Alert>}
        {seen.data && (
          <>
            <Seats room={seen.data} doing={doing} />
            <Passcode room={seen.data} doing={doing} />
            <Pages key={seen.data.origins?.join()} room={seen.data} doing={doing} />
          </>
        )}
        {told && (
          <Alert variant={told.wrong ? "warning" : "success"} role={told.wrong ? "alert" : "status"} className="mt-3 mb-0">
            {told.text}
          </Alert>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onClose}>
          Close
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function Seats({ room, doing }: { room: Room; doing: Doing }) {
  const at = (seat: number) => ({ params: { path: { room: room.id, seat } } });
  return (
    <>
      <ul className="door-seats" aria-label="Seats">
        {room.seats.map((s) => (
          <li key={s.number}>
            <span className="door-seat-colour" style={{ background: s.colour }} />
            <span className={s.name ? "door-name" : "door-name quiet"}>
              {s.name || `Seat ${s.number} is free`}
              {room.host === s.number && <span className="quiet">, host</span>}
            </span>
            {s.name && room.host !== s.number && (
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Make ${s.name} the host`}
                onClick={() =>
                  void doing(
                    async () => given(await asMaker.POST("/api/rooms/{room}/seats/{seat}/host", at(s.number))),
                    `${s.name} is the host.`,
                  )
                }
              >
                Make host
              </Button>
            )}
            {s.name && (
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Free the seat of ${s.name}`}
                onClick={() =>
                  void doing(
                    async () => given(await asMaker.POST("/api/rooms/{room}/seats/{seat}/free", at(s.number))),
                    `${s.name}'s seat is free. Whoever takes it finds its cards.`,
                  )
                }
              >
                Free the seat
              </Button>
            )}
          </li>
        ))}
      </ul>
      <p className="quiet">Who lost the way back to a seat takes it anew once it is free: its cards stay.</p>
    </>
  );
}

/** One line that is changed with a button. */
function Line({ id, label, change, children }: { id: string; label: string; change: () => void; children: ReactNode }) {
  return (
    <Form
      onSubmit={(e: FormEvent) => {
        e.preventDefault();
        change();
      }}
    >
      <Form.Group controlId={id} className="mt-3">
        <Form.Label>{label}</Form.Label>
        <InputGroup>{children}</InputGroup>
      </Form.Group>
    </Form>
  );
}

function Passcode({ room, doing }: { room: Room; doing: Doing }) {
  const [passcode, setPasscode] = useState("");
  const give = (passcode: string, said: string) =>
    void doing(async () => {
      given(await asMaker.PUT("/api/rooms/{room}/passcode", { params: { path: { room: room.id } }, body: { passcode } }));
      setPasscode("");
    }, said);
  return (
    <Line
      id="door-passcode"
      label={room.passcode ? "Whoever joins is asked for a passcode. Another one:" : "Ask whoever joins for a passcode:"}
      change={() => passcode && give(passcode, "Whoever joins from now on is asked for it; who sits there stays.")}
    >
      <Form.Control value={passcode} maxLength={64} autoComplete="off" onChange={(e) => setPasscode(e.target.value)} />
      <Button type="submit" variant="outline-primary" disabled={!passcode}>
        Ask for it
      </Button>
      {room.passcode && (
        <Button variant="outline-secondary" onClick={() => give("", "Nobody is asked for a passcode any more.")}>
          Ask for none
        </Button>
      )}
    </Line>
  );
}

/** The address of pages that is meant by a whole link, or by a bare name. What is neither stays, and the service says why. */
function originOf(text: string): string {
  const link = text.includes("://") ? text : `https://${text}`;
  const origin = text !== "*" && URL.canParse(link) ? new URL(link).origin : "null";
  return origin === "null" ? text : origin;
}

function Pages({ room, doing }: { room: Room; doing: Doing }) {
  const [pages, setPages] = useState(room.origins?.join(" ") ?? "");
  const origins = pages
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(originOf);
  return (
    <Line
      id="door-pages"
      label="Pages of others that may show this table, such as https://game.example:"
      change={() =>
        void doing(
          async () => given(await asMaker.PUT("/api/rooms/{room}/origins", { params: { path: { room: room.id } }, body: { origins } })),
          origins.length > 0 ? "These pages may show it." : "No page of others may show it.",
        )
      }
    >
      <Form.Control value={pages} onChange={(e) => setPages(e.target.value)} />
      <Button type="submit" variant="outline-primary" disabled={origins.join(" ") === (room.origins?.join(" ") ?? "")}>
        Allow
      </Button>
    </Line>
  );
}
