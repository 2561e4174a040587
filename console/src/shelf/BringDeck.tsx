// Bringing a single deck of a kit onto the table of a room in use.
import { useState } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { asMaker, given } from "../maker/maker";
import { plural } from "../parts/plural";
import { useKit, useKits, type RoomRow } from "./shelf";

export function BringDeck({ room, onClose }: { room: RoomRow | null; onClose: () => void }) {
  return (
    <Modal show={room !== null} onHide={onClose} aria-labelledby="bring-deck" centered>
      {room && <Asked room={room} onClose={onClose} />}
    </Modal>
  );
}

function Asked({ room, onClose }: { room: RoomRow; onClose: () => void }) {
  const kits = useKits().data ?? [];
  const [kit, setKit] = useState(kits.find((k) => k.id !== room.kit)?.id ?? room.kit);
  const decks = useKit(kit).data?.decks ?? [];
  const [chosen, setDeck] = useState("");
  const deck = decks.some((d) => d.key === chosen) ? chosen : (decks[0]?.key ?? "");
  const [problem, setProblem] = useState("");
  const bring = async () => {
    try {
      given(await asMaker.POST("/api/rooms/{room}/decks", { params: { path: { room: room.id } }, body: { kit, deck } }));
      onClose();
    } catch (wrong) {
      setProblem(wrong instanceof Error ? wrong.message : String(wrong));
    }
  };
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void bring();
      }}
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="bring-deck">
          Bring a deck onto {room.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="bring-kit" className="mb-3">
          <Form.Label>Of the kit</Form.Label>
          <Form.Select value={kit} onChange={(e) => setKit(e.target.value)}>
            {kits.map((k) => (
              <option key={k.id} value={k.id}>
                {k.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="bring-which">
          <Form.Label>The deck</Form.Label>
          <Form.Select value={deck} onChange={(e) => setDeck(e.target.value)}>
            {decks.map((d) => (
              <option key={d.key} value={d.key}>
                {d.key}, {plural(d.cards, "card")}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
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
        <Button type="submit" disabled={!deck}>
          Bring it
        </Button>
      </Modal.Footer>
    </Form>
  );
}
