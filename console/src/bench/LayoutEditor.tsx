// A layout: its boxes as a list and on a card of real rows, which the core draws
// again with every change. Boxes are dragged and sized on the card as well.
import { useCallback, useRef, useState, type PointerEvent } from "react";
import Button from "react-bootstrap/Button";
import { aligned, type Aligned } from "./aligning";
import { edit, useDraft } from "./draft";
import { CheckField, Choice, NumberField, TextField } from "./fields";
import { DrawnCard } from "./Thumb";
import type { Box, LayoutEntry } from "./types";
import "./LayoutEditor.css";

const high = 470; // of the previewed card, in pixels of the page
const near = 5; // how near a dragged box falls into line, in those pixels; with Alt it does not

export function LayoutEditor({ name }: { name: string }) {
  const { manifest } = useDraft();
  const layout = manifest.layouts?.[name];
  const deck = Object.entries(manifest.decks ?? {}).find(([, d]) => d.layout === name)?.[0];
  const [face, setFace] = useState<"front" | "back">("front");
  const [row, setRow] = useState(0);
  const [chosen, setChosen] = useState(0);
  const [problems, setProblems] = useState<string[]>([]);
  const onProblems = useCallback((p: string[]) => setProblems(p), []);
  if (!layout) return null;
  const boxes = (face === "front" ? layout.front : layout.back) ?? [];
  const put = (next: Box[], again = false) => edit(["layouts", name, face], next.length ? next : undefined, again);
  const change = (i: number, part: Partial<Box>, again = false) =>
    put(
      boxes.map((b, k) => (k === i ? clean({ ...b, ...part }) : b)),
      again,
    );
  const box = boxes[chosen];
  const swap = (to: number) => {
    const next = [...boxes];
    const [moved] = next.splice(chosen, 1);
    if (moved) next.splice(to, 0, moved);
    put(next);
    setChosen(to);
  };
  return (
    <section aria-label={`Layout ${name}`} className="bench-layout">
      <div className="bench-layout-card">
        <div className="bench-numbers">
          <Choice
            label="Side"
            value={face}
            choices={[
              ["front", "front"],
              ["back", "back"],
            ]}
            onChange={(v) => {
              setFace(v === "back" ? "back" : "front");
              setChosen(0);
            }}
          />
          <NumberField label="Row" value={row + 2} least={2} most={20001} onChange={(n) => setRow((n ?? 2) - 2)} />
          <NumberField
            label="Width"
            value={layout.size[0]}
            least={16}
            most={4096}
            onChange={(n) => edit(["layouts", name, "size"], [n ?? 500, layout.size[1]])}
          />
          <NumberField
            label="Height"
            value={layout.size[1]}
            least={16}
            most={4096}
            onChange={(n) => edit(["layouts", name, "size"], [layout.size[0], n ?? 700])}
          />
        </div>
        {boxes.length === 0 && (
          <p className="quiet">Nothing is drawn on the {face} yet; the deck has one back for all. Add a box to draw one for each card.</p>
        )}
        {deck && boxes.length > 0 && (
          <Preview
            key={face}
            deck={deck}
            row={row}
            face={face}
            layout={layout}
            boxes={boxes}
            chosen={chosen}
            onChoose={setChosen}
            onAt={(at, again) => change(chosen, { at }, again)}
            onProblems={onProblems}
          />
        )}
        {!deck && <p className="quiet">No deck uses this layout yet; choose it at a deck of a table file to see its cards.</p>}
        <ul className="bench-warnings" role="status">
          {problems.map((p) => (
            <li key={p}>{p}</li>
          ))}
        </ul>
      </div>
      <div className="bench-boxes">
        <ol>
          {boxes.map((b, i) => (
            <li key={i}>
              <button type="button" className={i === chosen ? "chosen" : ""} aria-pressed={i === chosen} onClick={() => setChosen(i)}>
                {titleOf(b)}
              </button>
            </li>
          ))}
        </ol>
        <div className="bench-numbers">
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => {
              put([...boxes, { at: [40, 40, 300, 80], text: "{title}", height: 36 }]);
              setChosen(boxes.length);
            }}
          >
            Text
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => {
              put([...boxes, { at: [40, 140, 200, 200], picture: "{front}" }]);
              setChosen(boxes.length);
            }}
          >
            Picture
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => {
              put([...boxes, { at: [20, 20, 200, 100], fill: "#e8e2d0" }]);
              setChosen(boxes.length);
            }}
          >
            Colour
          </Button>
          <Button size="sm" variant="outline-secondary" disabled={chosen <= 0} onClick={() => swap(chosen - 1)}>
            Further down
          </Button>
          <Button size="sm" variant="outline-secondary" disabled={chosen >= boxes.length - 1} onClick={() => swap(chosen + 1)}>
            Further up
          </Button>
          <Button
            size="sm"
            variant="outline-danger"
            disabled={!box}
            onClick={() => {
              put(boxes.filter((_, i) => i !== chosen));
              setChosen(Math.max(0, chosen - 1));
            }}
          >
            Remove
          </Button>
        </div>
        {box && <BoxFields box={box} onChange={(part) => change(chosen, part)} />}
      </div>
    </section>
  );
}

const titleOf = (b: Box) =>
  b.text ? `“${b.text.slice(0, 34)}”` : b.picture ? `picture ${b.picture}` : b.line ? "line" : `colour ${b.fill ?? ""}`;

/** Leaves out what is not given, so that kit.yaml stays short. */
function clean(b: Box): Box {
  return Object.fromEntries(Object.entries(b).filter(([, v]) => v !== undefined && v !== "" && v !== false)) as unknown as Box;
}

function BoxFields({ box, onChange }: { box: Box; onChange: (part: Partial<Box>) => void }) {
  const { files } = useDraft();
  const at = (i: number) => (n: number | undefined) => onChange({ at: box.at.map((v, k) => (k === i ? (n ?? 0) : v)) as Box["at"] });
  return (
    <div className="bench-numbers">
      <NumberField label="Left" value={box.at[0]} least={-4096} most={4096} onChange={at(0)} />
      <NumberField label="Top" value={box.at[1]} least={-4096} most={4096} onChange={at(1)} />
      <NumberField label="Width" value={box.at[2]} least={1} most={8192} onChange={at(2)} />
      <NumberField label="Height" value={box.at[3]} least={1} most={8192} onChange={at(3)} />
      {box.text !== undefined && (
        <>
          <TextField
            wide
            label="Text"
            value={box.text}
            hint="{field}, **bold**, *italic*, :icon:"
            onChange={(text) => onChange({ text: text ?? " " })}
          />
          <NumberField label="Letters" value={box.height ?? 36} least={4} most={1000} onChange={(height) => onChange({ height })} />
          <NumberField
            label="Shrink to"
            value={box.least ?? 0}
            least={0}
            most={1000}
            zero="half"
            onChange={(least) => onChange({ least })}
          />
          <Choice
            label="Font"
            value={box.font ?? "plain"}
            choices={[
              ["plain", "plain"],
              ["mono", "mono"],
              ["small-caps", "small caps"],
              ...Object.keys(files)
                .filter((file) => /\.(ttf|otf)$/i.test(file))
                .map((file): [string, string] => [file, file]),
            ]}
            onChange={(font) => onChange({ font })}
          />
          <Choice
            label="Across"
            value={box.align ?? "left"}
            choices={[
              ["left", "left"],
              ["centre", "centre"],
              ["right", "right"],
            ]}
            onChange={(align) => onChange({ align })}
          />
          <Choice
            label="Down"
            value={box.down ?? "top"}
            choices={[
              ["top", "top"],
              ["middle", "middle"],
              ["bottom", "bottom"],
            ]}
            onChange={(down) => onChange({ down })}
          />
          <CheckField label="bold" value={box.bold ?? false} onChange={(bold) => onChange({ bold })} />
          <CheckField label="italic" value={box.italic ?? false} onChange={(italic) => onChange({ italic })} />
        </>
      )}
      {box.picture !== undefined && (
        <>
          <TextField
            wide
            label="Picture"
            value={box.picture}
            hint="art/{stamp}.png"
            onChange={(picture) => onChange({ picture: picture ?? " " })}
          />
          <Choice
            label="Shown"
            value={box.fit ?? "fit"}
            choices={[
              ["fit", "all of it"],
              ["fill", "filling the box"],
            ]}
            onChange={(fit) => onChange({ fit })}
          />
        </>
      )}
      <TextField label="Colour" value={box.colour ?? ""} hint="#26323a or {ink}" onChange={(colour) => onChange({ colour })} />
      <TextField label="Filled with" value={box.fill ?? ""} hint="nothing" onChange={(fill) => onChange({ fill })} />
      <NumberField label="Line" value={box.line ?? 0} least={0} most={100} zero="none" onChange={(line) => onChange({ line })} />
      <NumberField label="Corners" value={box.round ?? 0} least={0} most={500} zero="square" onChange={(round) => onChange({ round })} />
    </div>
  );
}

function Preview({
  deck,
  row,
  face,
  layout,
  boxes,
  chosen,
  onChoose,
  onAt,
  onProblems,
}: {
  deck: string;
  row: number;
  face: "front" | "back";
  layout: LayoutEntry;
  boxes: Box[];
  chosen: number;
  onChoose: (i: number) => void;
  onAt: (at: Box["at"], again: boolean) => void;
  onProblems: (p: string[]) => void;
}) {
  const { files, manifest } = useDraft();
  const file = manifest.decks?.[deck]?.rows ?? "";
  const scale = high / layout.size[1];
  const drag = useRef<{ x: number; y: number; at: Box["at"]; size: boolean; moved: boolean } | null>(null);
  const [lines, setLines] = useState<Pick<Aligned, "across" | "down"> | null>(null);
  const start = (i: number, size: boolean) => (e: PointerEvent<HTMLElement>) => {
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    onChoose(i);
    const box = boxes[i];
    if (box) drag.current = { x: e.clientX, y: e.clientY, at: box.at, size, moved: false };
  };
  const move = (e: PointerEvent<HTMLElement>) => {
    const d = drag.current;
    if (!d) return;
    const [dx, dy] = [Math.round((e.clientX - d.x) / scale), Math.round((e.clientY - d.y) / scale)];
    if (!d.moved && dx === 0 && dy === 0) return;
    const to: Box["at"] = d.size
      ? [d.at[0], d.at[1], Math.max(4, d.at[2] + dx), Math.max(4, d.at[3] + dy)]
      : [d.at[0] + dx, d.at[1] + dy, d.at[2], d.at[3]];
    const others = boxes.filter((_, i) => i !== chosen).map((b) => b.at);
    const fallen = aligned(to, d.size, others, layout.size, e.altKey ? 0 : Math.round(near / scale));
    setLines(fallen);
    onAt(fallen.at, d.moved);
    d.moved = true;
  };
  const end = () => {
    drag.current = null;
    setLines(null);
  };
  const mark = JSON.stringify([layout, files[file]?.length, file]) + String(files[file] && shortHash(files[file]));
  return (
    <div className="layout-preview" style={{ width: layout.size[0] * scale, height: high }}>
      <DrawnCard deck={deck} row={row} face={face} size={layout.size} high={high} mark={mark} onProblems={onProblems} />
      {boxes.map((b, i) => (
        <div
          key={i}
          className={`layout-box ${i === chosen ? "chosen" : ""}`}
          style={{ left: b.at[0] * scale, top: b.at[1] * scale, width: b.at[2] * scale, height: b.at[3] * scale }}
          onPointerDown={start(i, false)}
          onPointerMove={move}
          onPointerUp={end}
          onPointerCancel={end}
        >
          {i === chosen && (
            <span className="layout-size" onPointerDown={start(i, true)} onPointerMove={move} onPointerUp={end} onPointerCancel={end} />
          )}
        </div>
      ))}
      {lines?.across.map((x) => (
        <div key={`x${x}`} className="layout-line" style={{ left: x * scale, top: 0, bottom: 0 }} />
      ))}
      {lines?.down.map((y) => (
        <div key={`y${y}`} className="layout-line" style={{ top: y * scale, left: 0, right: 0 }} />
      ))}
    </div>
  );
}

/** Tells one version of a file from another. */
function shortHash(bytes: Uint8Array): number {
  let hash = 0;
  for (const b of bytes) hash = (hash * 31 + b) | 0;
  return hash;
}
