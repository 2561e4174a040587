import Button from "react-bootstrap/Button";
import { actsFor } from "./acts";
import { cardName } from "./CardFace";
import { find, nameOf } from "./chosen";
import { useTable } from "./TableContext";

/** The acts that are possible with what is chosen. */
export function ActBar() {
  const { view, chosen, act, canAct } = useTable();
  const acts = actsFor(view, chosen);
  const place = view.places.find((p) => p.id === chosen.place);
  const first = chosen.handles[0] ? find(view, chosen.handles[0]) : null;
  let what = "";
  if (place) what = `${nameOf(view, place)}, ${place.count} cards`;
  else if (chosen.handles.length > 1) what = `${chosen.handles.length} cards`;
  else if (first) what = cardName(first.card);
  return (
    <div className="act-bar" role="toolbar" aria-label="What to do">
      {acts.length === 0 && (
        <span className="quiet">Drag a card, or click one or a pile and choose here what to do with it.</span>
      )}
      {what && <strong className="act-what">{what}</strong>}
      {acts.map(({ key, label, action }) => (
        <Button key={label} size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act(action)}
          aria-keyshortcuts={key || undefined}>
          {label}{key && <kbd>{key.toUpperCase()}</kbd>}
        </Button>
      ))}
    </div>
  );
}
