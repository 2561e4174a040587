// A question before something that matters: yes or no, or a line to type.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { ofTable } from "./ofTable";
import { limits } from "../api/tables.gen";
import "./Asking.css";

interface Question {
  question: string;
  detail?: string;
  yes: string;
  /** What stands in the line to type, if there is one. */
  line?: string;
  most?: number;
}

const useAsking = ofTable<{ asked: Question | null; then: (line: string) => void }>(() => ({ asked: null, then: () => undefined }));

/** Asks, and goes on with what was typed if the answer is yes. */
export function askFor(asked: Question, then: (line: string) => void): void {
  useAsking.setState({ asked, then });
}

export function Asking() {
  const { asked, then } = useAsking();
  const close = () => useAsking.setState({ asked: null });
  return (
    <Modal show={asked !== null} onHide={close} aria-labelledby="asking" centered>
      {asked && (
        <Answering
          key={asked.question}
          asked={asked}
          onNo={close}
          onYes={(line) => {
            close();
            then(line);
          }}
        />
      )}
    </Modal>
  );
}

function Answering({ asked, onNo, onYes }: { asked: Question; onNo: () => void; onYes: (line: string) => void }) {
  const [line, setLine] = useState(asked.line ?? "");
  const good = asked.line === undefined || line.trim() !== "";
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        if (good) onYes(line.trim());
      }}
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="asking">
          {asked.question}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {asked.detail && <p className="asked-detail">{asked.detail}</p>}
        {asked.line !== undefined && (
          <Form.Control
            aria-labelledby="asking"
            value={line}
            maxLength={asked.most ?? limits.name}
            onChange={(e) => setLine(e.target.value)}
            autoFocus
            onFocus={(e) => e.target.select()}
          />
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onNo}>
          No
        </Button>
        <Button type="submit" disabled={!good} autoFocus={asked.line === undefined}>
          {asked.yes}
        </Button>
      </Modal.Footer>
    </Form>
  );
}
