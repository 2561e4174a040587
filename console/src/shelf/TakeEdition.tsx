// Taking another edition into a room that is playing: first what will happen, then the act.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import Spinner from "react-bootstrap/Spinner";
import { asMaker, given } from "../maker/maker";
import { ComparisonShown, inShort } from "./Comparison";
import { plural } from "../parts/plural";
import { useShelfChanged, type RoomRow } from "./shelf";

type NewCards = "top" | "underneath" | "shuffled";

export function TakeEdition({ room, edition, onClose }: { room: RoomRow | null; edition: number; onClose: () => void }) {
  return (
    <Modal show={room !== null} onHide={onClose} size="lg" scrollable aria-labelledby="take-edition" centered>
      {room && <Asked room={room} edition={edition} onClose={onClose} />}
    </Modal>
  );
}

function Asked({ room, edition, onClose }: { room: RoomRow; edition: number; onClose: () => void }) {
  const [where, setWhere] = useState<NewCards>("underneath");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const changed = useShelfChanged();
  const comparison = useQuery({
    queryKey: ["compare", room.kit, room.edition, edition],
    queryFn: async () =>
      given(
        await asMaker.GET("/api/kits/{kit}/compare", { params: { path: { kit: room.kit }, query: { from: room.edition, to: edition } } }),
      ),
  });
  const take = async () => {
    setBusy(true);
    try {
      given(await asMaker.POST("/api/rooms/{room}/edition", { params: { path: { room: room.id } }, body: { edition, new_cards: where } }));
      await changed();
      onClose();
    } catch (wrong) {
      setProblem(wrong instanceof Error ? wrong.message : String(wrong));
      setBusy(false);
    }
  };
  const some = comparison.data?.decks?.some((d) => d.added?.length || d.changed?.some((c) => c.after.copies > c.before.copies));
  const gone = comparison.data?.decks?.some((d) => d.removed?.length);
  return (
    <>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="take-edition">
          Take edition {edition} into {room.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {problem && (
          <Alert variant="warning" role="alert">
            {problem}
          </Alert>
        )}
        {comparison.error && (
          <Alert variant="warning" role="alert">
            {comparison.error.message}
          </Alert>
        )}
        {comparison.isPending && <Spinner size="sm" role="status" aria-label="Comparing" />}
        {comparison.data && (
          <>
            <p>
              It has edition {room.edition} now. {inShort(comparison.data)}
              {room.people > 0 && ` ${plural(room.people, "person", "people")} there will see it at once.`}
            </p>
            <p className="quiet">
              Cards keep where they lie, and what is hidden stays hidden.
              {gone &&
                " Cards that are gone leave where everybody sees them; in hands and piles they stay, marked for who sees them, until everybody does."}{" "}
              What people moved on the table stays there. You can take edition {room.edition} in again.
            </p>
            {some && (
              <Form.Group controlId="new-cards" className="mb-2 new-cards">
                <Form.Label>New cards go to their deck&rsquo;s home,</Form.Label>
                <Form.Select size="sm" value={where} onChange={(e) => setWhere(e.target.value as NewCards)}>
                  <option value="underneath">underneath</option>
                  <option value="top">on top</option>
                  <option value="shuffled">shuffled in</option>
                </Form.Select>
              </Form.Group>
            )}
            <ComparisonShown of={comparison.data} />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onClose}>
          Not now
        </Button>
        <Button disabled={busy || !comparison.data} onClick={() => void take()}>
          Take it in
        </Button>
      </Modal.Footer>
    </>
  );
}
