// Opening a room with a kit, and the link to be sent once it is open.
import { useState, type FormEvent } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { Link } from "react-router";
import type { Room } from "../api/client";
import { asMaker, given } from "../maker/maker";
import { RoomLink } from "./RoomLink";
import { useShelfChanged } from "./shelf";

/** What a room is opened with: a kit, or a bookmark. */
type Opening = { name: string; seats: number } & ({ kit: string; /** The newest if left out. */ edition?: number } | { bookmark: string });

export function OpenRoom({ of, onClose }: { of: Opening | null; onClose: () => void }) {
  return (
    <Modal show={of !== null} onHide={onClose} aria-labelledby="open-room" centered>
      {of && <Asked key={of.name} of={of} onClose={onClose} />}
    </Modal>
  );
}

function Asked({ of, onClose }: { of: Opening; onClose: () => void }) {
  const [name, setName] = useState(of.name);
  const [seats, setSeats] = useState(of.seats);
  const [passcode, setPasscode] = useState("");
  const [spectators, setSpectators] = useState(true);
  const [problem, setProblem] = useState("");
  const [opened, setOpened] = useState<Room | null>(null);
  const changed = useShelfChanged();
  const open = async (event: FormEvent) => {
    event.preventDefault();
    const what = "bookmark" in of ? { bookmark: of.bookmark } : { kit: of.kit, edition: of.edition, seats };
    try {
      setOpened(given(await asMaker.POST("/api/rooms", { body: { ...what, name, passcode, spectators } })));
      await changed();
    } catch (wrong) {
      setProblem(wrong instanceof Error ? wrong.message : String(wrong));
    }
  };
  if (opened) {
    return (
      <>
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="open-room">
            {opened.name} is open
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <RoomLink room={opened} />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={onClose}>
            Later
          </Button>
          <Link className="btn btn-primary" to={opened.path}>
            Sit down
          </Link>
        </Modal.Footer>
      </>
    );
  }
  return (
    <Form onSubmit={(e) => void open(e)}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="open-room">
          Open a room
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="room-name" className="mb-3">
          <Form.Label>Name</Form.Label>
          <Form.Control value={name} maxLength={80} onChange={(e) => setName(e.target.value)} onFocus={(e) => e.target.select()} />
        </Form.Group>
        <Form.Group controlId="room-seats" className="mb-3">
          <Form.Label>Seats</Form.Label>
          <Form.Select value={seats} disabled={"bookmark" in of} onChange={(e) => setSeats(Number(e.target.value))}>
            {Array.from({ length: of.seats }, (_, i) => (
              <option key={i} value={i + 1}>
                {i + 1}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="room-passcode" className="mb-3">
          <Form.Label>Passcode, if everybody who comes shall be asked for one</Form.Label>
          <Form.Control value={passcode} maxLength={64} autoComplete="off" onChange={(e) => setPasscode(e.target.value)} />
        </Form.Group>
        <Form.Check
          id="room-spectators"
          label="People may watch without a seat"
          checked={spectators}
          onChange={(e) => setSpectators(e.target.checked)}
        />
        {problem && (
          <Alert variant="warning" role="alert" className="mt-3 mb-0">
            {problem}
          </Alert>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onClose}>
          No
        </Button>
        <Button type="submit">Open it</Button>
      </Modal.Footer>
    </Form>
  );
}
