import Modal from "react-bootstrap/Modal";

const keys: [string, string][] = [
  ["Tab", "go to the next card, pile or button"],
  ["Enter or Space", "choose the card or pile in focus; with Shift, choose one more"],
  ["1 to 9", "how many the acts of a chosen pile take"],
  ["D", "draw from the chosen pile to my hand"],
  ["G", "deal to each"],
  ["T, Y", "fill my hand, or every hand, to that number"],
  ["S", "shuffle the chosen pile"],
  ["F", "flip what is chosen; of a pile the top card"],
  ["O", "turn the chosen pile over"],
  ["R", "rotate what is chosen by the table's step"],
  ["C", "cut the chosen pile"],
  ["P", "peek at the top of the chosen pile"],
  ["N", "sort the chosen pile, or my hand, by name"],
  ["E, W", "show the chosen cards of my hand to everyone, for good or for 20 seconds"],
  ["I", "hide them again"],
  ["B", "put the chosen cards together to a pile"],
  ["J", "exchange the chosen cards of my hand for as many new ones"],
  ["X", "let two chosen cards change places"],
  [", and .", "move the chosen card of a row or of my hand to the left or right"],
  ["Shift, while dragging", "let the dragged card and the one under it change places"],
  ["Z, held", "enlarge the card under the pointer or in focus"],
  ["M", "open the menu of acts; so does a right click"],
  ["+ − 0", "nearer, farther, show all; the wheel does it too, and dragging with the right button moves the table"],
  ["Q", "measure: press where from, drag to where"],
  ["A", "arrange the table, for who may"],
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
