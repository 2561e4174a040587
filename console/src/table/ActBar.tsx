import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { plural } from "../parts/plural";
import { actsFor, mostOf } from "./acts";
import { cardName } from "./CardFace";
import { find, nameOf } from "./chosen";
import { pageKeys, written } from "./keymap";
import { useTable } from "./TableContext";
import "./ActBar.css";

/** The acts that are possible with what is chosen. */
export function ActBar({ count, onCount }: { count: number; onCount: (count: number) => void }) {
  const { view, chosen, act, canAct, menu } = useTable();
  const acts = actsFor(view, chosen, count);
  const place = view.places.find((p) => p.id === chosen.place);
  const first = chosen.handles[0] ? find(view, chosen.handles[0]) : null;
  let what = "";
  if (place) what = `${nameOf(view, place)}, ${plural(place.count, "card")}`;
  else if (chosen.handles.length > 1) what = plural(chosen.handles.length, "card");
  else if (first) what = cardName(first.card);
  return (
    <div className="act-bar" role="toolbar" aria-label="What to do">
      {acts.length === 0 && (
        <span className="quiet">
          Drag a card, or click one or a pile and choose here what to do with it. Hold Z over a card to read it.
        </span>
      )}
      {what && <strong className="act-what">{what}</strong>}
      {place && (
        <label className="act-count">
          how many{" "}
          <Form.Control
            size="sm"
            type="number"
            min={1}
            max={mostOf(place)}
            value={Math.min(count, mostOf(place))}
            onChange={(e) => onCount(Math.max(1, Math.min(mostOf(place), Number(e.target.value) || 1)))}
          />
        </label>
      )}
      <div className="act-buttons">
        {acts
          .filter((a) => a.key !== "" || acts.length < 10)
          .map(({ key, label, action }) => (
            <Button
              key={label}
              size="sm"
              variant="outline-primary"
              disabled={!canAct}
              onClick={() => void act(action)}
              aria-keyshortcuts={key || undefined}
            >
              {label}
              {key && <kbd>{key.toUpperCase()}</kbd>}
            </Button>
          ))}
      </div>
      {acts.length > 0 && (
        <Button
          size="sm"
          variant="outline-secondary"
          aria-haspopup="menu"
          aria-keyshortcuts={pageKeys.menu.keys[0]}
          onClick={(e) => {
            const r = e.currentTarget.getBoundingClientRect();
            menu({ x: r.left, y: r.top - 34 * acts.length });
          }}
        >
          All acts<kbd>{written(pageKeys.menu)}</kbd>
        </Button>
      )}
    </div>
  );
}
