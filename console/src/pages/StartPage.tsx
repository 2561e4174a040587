// Where somebody lands who came without a link.
import { useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import "./doorway.css";

export function StartPage() {
  const [link, setLink] = useState("");
  const navigate = useNavigate();
  const open = (event: FormEvent) => {
    event.preventDefault();
    const room = link.trim().split("/").pop();
    if (room) void navigate(`/room/${encodeURIComponent(room)}`);
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
            Go to the room
          </Button>
        </Form>
        <p className="quiet mt-4 mb-0">
          Makers look sheets over, make decks and keep kits at <a href="/bench">the bench</a>, and open rooms with{" "}
          <code>damselfly room open KIT</code>. Builders find every call <a href="/api/docs">described here</a>.
        </p>
      </section>
    </main>
  );
}
