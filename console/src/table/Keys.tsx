import Modal from "react-bootstrap/Modal";

const keys: [string, string][] = [
  ["Tab", "go to the next card, pile or button"],
  ["Enter or Space", "choose the card or pile in focus; with Shift, choose one more"],
  ["D", "draw a card from the chosen pile to my hand"],
  ["3", "draw three"],
  ["S", "shuffle the chosen pile"],
  ["F", "flip what is chosen; of a pile the top card"],
  ["O", "turn the chosen pile over"],
  ["R", "rotate what is chosen by the table's step"],
  ["C", "cut the chosen pile"],
  ["P", "peek at the top three of the chosen pile"],
  ["E", "show the chosen cards of my hand to everyone"],
  ["U", "undo my last action"],
  ["H", "take what is chosen into my hand"],
  ["Esc", "choose nothing"],
  ["?", "show these keys"],
];

export function Keys({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys">
      <Modal.Header closeButton><Modal.Title id="keys">Keys</Modal.Title></Modal.Header>
      <Modal.Body>
        <dl className="keys">
          {keys.map(([key, what]) => <div key={key}><dt><kbd>{key}</kbd></dt><dd>{what}</dd></div>)}
        </dl>
      </Modal.Body>
    </Modal>
  );
}
