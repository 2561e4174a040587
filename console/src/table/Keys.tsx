import Modal from "react-bootstrap/Modal";
import { allKeys, written } from "./keymap";
import "./Keys.css";

export function Keys({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} size="lg" aria-labelledby="keys">
      <Modal.Header closeButton>
        <Modal.Title id="keys">Keys</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <dl className="keys">
          {allKeys.map((row) => (
            <div key={row.does}>
              <dt>
                <kbd>{written(row)}</kbd>
              </dt>
              <dd>{row.does}</dd>
            </div>
          ))}
        </dl>
      </Modal.Body>
    </Modal>
  );
}
