// Printing a kit's cards: what, on which paper, and how.
import { useState, type FormEvent } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { asMaker, given } from "../maker/maker";
import { saveBlob } from "./Bookmarks";
import { plural } from "../parts/plural";
import { type KitPage } from "./shelf";

type Paper = "a4" | "letter";
type Backs = "none" | "long" | "short";

export function PrintKit({ kit, show, onClose }: { kit: KitPage; show: boolean; onClose: () => void }) {
  return (
    <Modal show={show} onHide={onClose} aria-labelledby="print-kit" centered>
      <Asked kit={kit} onClose={onClose} />
    </Modal>
  );
}

function Asked({ kit, onClose }: { kit: KitPage; onClose: () => void }) {
  const [deck, setDeck] = useState("");
  const [paper, setPaper] = useState<Paper>("a4");
  const [backs, setBacks] = useState<Backs>("none");
  const [marks, setMarks] = useState(true);
  const [bleed, setBleed] = useState(false);
  const [former, setFormer] = useState(0);
  const [problem, setProblem] = useState("");
  const [drawing, setDrawing] = useState(false);
  const older = kit.editions.filter((e) => e.number < kit.edition);
  const print = async (event: FormEvent) => {
    event.preventDefault();
    setDrawing(true);
    setProblem("");
    try {
      const query = { deck: deck || undefined, paper, backs, marks, bleed: bleed ? 3 : 0, "changed-since": former || undefined };
      const file = given(
        await asMaker.GET("/api/kits/{kit}/print", { params: { path: { kit: kit.id }, query }, parseAs: "blob" }),
      ) as unknown as Blob;
      saveBlob(`${kit.name}${deck && `, ${deck}`}.pdf`, file);
      onClose();
    } catch (wrong) {
      setProblem(wrong instanceof Error ? wrong.message : String(wrong));
    } finally {
      setDrawing(false);
    }
  };
  return (
    <Form onSubmit={(e) => void print(e)}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="print-kit">
          Print
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>A PDF with each card in its real size. Print it without scaling (100 %).</p>
        <Form.Group controlId="print-deck" className="mb-3">
          <Form.Label>Cards</Form.Label>
          <Form.Select value={deck} onChange={(e) => setDeck(e.target.value)}>
            <option value="">all decks</option>
            {kit.decks.map((d) => (
              <option key={d.key} value={d.key}>
                {d.key}, {plural(d.cards, "card")}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        {older.length > 0 && (
          <Form.Group controlId="print-former" className="mb-3">
            <Form.Label>Which of them</Form.Label>
            <Form.Select value={former} onChange={(e) => setFormer(Number(e.target.value))}>
              <option value={0}>all</option>
              {older.map((e) => (
                <option key={e.number} value={e.number}>
                  those that changed since edition {e.number}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        <Form.Group controlId="print-paper" className="mb-3">
          <Form.Label>Paper</Form.Label>
          <Form.Select value={paper} onChange={(e) => setPaper(e.target.value as Paper)}>
            <option value="a4">A4</option>
            <option value="letter">Letter</option>
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="print-backs" className="mb-3">
          <Form.Label>Backs</Form.Label>
          <Form.Select value={backs} onChange={(e) => setBacks(e.target.value as Backs)}>
            <option value="none">none</option>
            <option value="long">for paper turned over its long edge</option>
            <option value="short">for paper turned over its short edge</option>
          </Form.Select>
        </Form.Group>
        <Form.Check id="print-marks" label="Show where to cut" checked={marks} onChange={(e) => setMarks(e.target.checked)} />
        <Form.Check id="print-bleed" label="Art 3 mm beyond the cut" checked={bleed} onChange={(e) => setBleed(e.target.checked)} />
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
        <Button type="submit" disabled={drawing}>
          {drawing ? "Laying it out …" : "Make the PDF"}
        </Button>
      </Modal.Footer>
    </Form>
  );
}
