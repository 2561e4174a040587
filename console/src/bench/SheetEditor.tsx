// A sheet: its cuts over the picture, and the cards that come of them beside it.
// Both follow every number at once; the warnings follow a moment later.
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { addressOf, core, edit, inOrder, putFiles, useDraft } from "./draft";
import { CutHandles } from "./CutHandles";
import { NumberField, NumbersField } from "./fields";
import { cellBox, fits, gutterOf, marginOf, sameGrid, shown, written } from "./grid";
import { makeDeck } from "./taking";
import type { Grid, Report, SheetEntry } from "./types";
import "./SheetEditor.css";

export function SheetEditor({ name, onDeck }: { name: string; onDeck: (deck: string) => void }) {
  const { files, manifest } = useDraft();
  const entry = manifest.sheets?.[name];
  const bytes = entry && files[entry.file];
  const [report, setReport] = useState<Report | null>(null);
  const [problem, setProblem] = useState("");
  const [size, setSize] = useState<[number, number] | null>(null);
  const [dragged, setDragged] = useState<Grid | null>(null); // while a cut is dragged
  const typed: Grid = {
    columns: entry?.columns ?? 0,
    rows: entry?.rows ?? 0,
    margin: entry?.margin,
    gutter: entry?.gutter,
    count: entry?.count,
  };
  const seen = report?.grid ?? { columns: 1, rows: 1 }; // by the list beside it, or as it looks
  const laid: Grid = typed.columns > 0 ? typed : { ...seen, count: typed.count ?? seen.count };
  const grid = dragged ?? laid;
  const asked = JSON.stringify(typed);
  useEffect(() => {
    if (!entry || !bytes) return;
    let current = true;
    const soon = setTimeout(() => {
      core()
        .lookOver(entry.file, JSON.parse(asked) as Grid)
        .then(
          (r) => {
            if (current) {
              setReport(r);
              setProblem("");
            }
          },
          (p: unknown) => {
            if (current) setProblem(p instanceof Error ? p.message : String(p));
          },
        );
    }, 120);
    return () => {
      current = false;
      clearTimeout(soon);
    };
  }, [entry, bytes, asked]);
  if (!entry) return null;
  const accept = (g: Grid) => {
    const margin = written(marginOf(g.margin));
    const gutter = written(gutterOf(g.gutter));
    edit(["sheets", name], {
      file: entry.file,
      columns: g.columns,
      rows: g.rows,
      ...(margin && { margin }),
      ...(gutter && { gutter }),
      ...(entry.count && { count: entry.count }),
    });
  };
  const set = (part: keyof SheetEntry, value: number | number[] | undefined) => {
    if (part !== "count" && !entry.columns) accept({ ...grid, [part]: value });
    else edit(["sheets", name, part], value || undefined);
  };
  const current = report && sameGrid(report.grid, grid) ? report : null; // a report of other numbers greys nothing
  const wrong = problem || (size && !fits(grid, size) ? "These numbers leave no room for cells on this picture." : "");
  const warnings = [
    ...(current?.warnings ?? []),
    ...(current?.cells ?? []).flatMap((c) => (c.warnings ?? []).map((w) => `cell ${c.cell}: ${w}`)),
  ];
  return (
    <section aria-label={`Sheet ${name}`} className="bench-sheet">
      <div className="bench-numbers">
        <NumberField label="Columns" value={grid.columns} least={1} most={100} onChange={(n) => set("columns", n)} />
        <NumberField label="Rows" value={grid.rows} least={1} most={100} onChange={(n) => set("rows", n)} />
        <NumbersField
          label="Margin"
          value={marginOf(grid.margin)}
          of={4}
          hint="left, top, right, bottom"
          onChange={(n) => set("margin", written(n))}
        />
        <NumbersField label="Gutter" value={gutterOf(grid.gutter)} of={2} hint="across, down" onChange={(n) => set("gutter", written(n))} />
        <NumberField label="Cards" value={grid.count ?? 0} least={0} most={1000} onChange={(n) => set("count", n)} zero="as found" />
        <Button size="sm" variant="outline-primary" className="ms-auto" disabled={!!wrong} onClick={() => onDeck(makeDeck(name))}>
          Make a deck of it
        </Button>
      </div>
      <div className="bench-guesses" role="group" aria-label="What the picture looks like">
        <span className="quiet">The picture looks like</span>
        {report?.guesses.slice(0, 3).map((g) => (
          <Button
            key={`${g.columns} × ${g.rows}, ${shown(marginOf(g.margin))}, ${shown(gutterOf(g.gutter))}`}
            size="sm"
            variant={sameGrid({ ...g, count: grid.count }, grid) ? "primary" : "outline-secondary"}
            onClick={() => accept(g)}
          >
            {g.columns} × {g.rows}
            {g.margin && `, margin ${shown(marginOf(g.margin))}`}
            {g.gutter && `, gutter ${shown(gutterOf(g.gutter))}`} <small>{Math.round(g.confidence * 100)} %</small>
          </Button>
        ))}
        {!report && !problem && <span className="quiet">… looking</span>}
        {!!current?.askew && <TurnUpright sheet={name} file={entry.file} askew={current.askew} onProblem={setProblem} />}
      </div>
      {wrong && (
        <p className="bench-wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="bench-split">
        <CutPicture
          address={addressOf(bytes)}
          grid={grid}
          size={size}
          report={current}
          onSize={setSize}
          onMove={setDragged}
          onCut={(g) => {
            setDragged(null);
            accept(g);
          }}
        />
        <CardStrip address={addressOf(bytes)} grid={grid} size={size} report={current} />
      </div>
      <Warnings warnings={warnings} looked={!!current} report={current} />
    </section>
  );
}

/** Puts a scan that lies askew into the kit turned upright. */
function TurnUpright({
  sheet,
  file,
  askew,
  onProblem,
}: {
  sheet: string;
  file: string;
  askew: number;
  onProblem: (problem: string) => void;
}) {
  const [turning, setTurning] = useState(false);
  const turn = async () => {
    setTurning(true);
    try {
      const upright = /\.png$/i.test(file) ? file : `${file.replace(/\.[^.]*$/, "")}-upright.png`;
      await putFiles({ [upright]: await core().upright(file, askew) });
      if (upright !== file) edit(["sheets", sheet, "file"], upright, true);
    } catch (p) {
      onProblem(p instanceof Error ? p.message : String(p));
    } finally {
      setTurning(false);
    }
  };
  return (
    <Button size="sm" variant="primary" disabled={turning} onClick={() => void inOrder(turn)}>
      {turning ? "Turning …" : "Turn it upright"}
    </Button>
  );
}

function Warnings({ warnings, looked, report }: { warnings: string[]; looked: boolean; report: Report | null }) {
  if (!looked)
    return (
      <p className="quiet" role="status">
        Looking the sheet over …
      </p>
    );
  const content = report?.cells.filter((c) => !c.empty).length ?? 0;
  const empty = (report?.cells.length ?? 0) - content;
  return (
    <div role="status">
      {report?.notes?.map((note) => (
        <p key={note} className="mt-2 mb-0">
          {note.charAt(0).toUpperCase() + note.slice(1)}.
        </p>
      ))}
      <p className={warnings.length ? "bench-warns" : "bench-right"}>
        {content} {content === 1 ? "card" : "cards"}, {empty} empty {empty === 1 ? "cell" : "cells"}.{" "}
        {warnings.length === 0 ? "Nothing looks wrong." : `${warnings.length} ${warnings.length === 1 ? "warning" : "warnings"}:`}
      </p>
      <ul className="bench-warnings">
        {warnings.slice(0, 30).map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
    </div>
  );
}

function CutPicture({
  address,
  grid,
  size,
  report,
  onSize,
  onMove,
  onCut,
}: {
  address?: string;
  grid: Grid;
  size: [number, number] | null;
  report: Report | null;
  onSize: (size: [number, number]) => void;
  onMove: (grid: Grid) => void;
  onCut: (grid: Grid) => void;
}) {
  const ok = size && fits(grid, size);
  return (
    <div className="cut-picture">
      <img src={address} alt="The sheet" onLoad={(e) => onSize([e.currentTarget.naturalWidth, e.currentTarget.naturalHeight])} />
      {ok && (
        <svg viewBox={`0 0 ${size[0]} ${size[1]}`} preserveAspectRatio="none" aria-hidden="true">
          {Array.from({ length: grid.columns * grid.rows }, (_, i) => {
            const [x, y, w, h] = cellBox(grid, size, i + 1);
            const cell = report?.cells[i];
            return (
              <g key={i} className={cell?.empty ? "cut empty" : cell?.warnings?.length || cell?.beyond ? "cut warned" : "cut"}>
                <rect x={x} y={y} width={w} height={h} vectorEffect="non-scaling-stroke" />
              </g>
            );
          })}
        </svg>
      )}
      {ok && <CutHandles grid={grid} size={size} onMove={onMove} onDone={onCut} />}
      {ok &&
        report?.cells
          .filter((c) => c.warnings?.length || c.beyond)
          .map((c) => {
            const [x, y] = cellBox(grid, size, c.cell);
            return (
              <span
                key={c.cell}
                className="pin"
                style={{ left: `${(x / size[0]) * 100}%`, top: `${(y / size[1]) * 100}%` }}
                title={(c.warnings ?? ["holds content beyond the count"]).join("; ")}
              >
                ! {c.cell}
              </span>
            );
          })}
    </div>
  );
}

/** The cards as they come off the sheet: parts of the one picture, so that no number has to be asked about. */
function CardStrip({
  address,
  grid,
  size,
  report,
}: {
  address?: string;
  grid: Grid;
  size: [number, number] | null;
  report: Report | null;
}) {
  if (!size || !fits(grid, size)) return <div className="card-strip" />;
  return (
    <ol className="card-strip" aria-label="The cards that come of it">
      {Array.from({ length: Math.min(grid.columns * grid.rows, 400) }, (_, i) => {
        const [x, y, w, h] = cellBox(grid, size, i + 1);
        const scale = 92 / Math.max(w, h);
        return (
          <li key={i} className={report?.cells[i]?.empty ? "empty" : ""}>
            <span
              className="strip-card"
              style={{
                width: w * scale,
                height: h * scale,
                backgroundImage: `url(${address})`,
                backgroundSize: `${size[0] * scale}px ${size[1] * scale}px`,
                backgroundPosition: `${-x * scale}px ${-y * scale}px`,
              }}
            />
            <small>
              {i + 1}
              {report?.cells[i]?.empty ? " empty" : ""}
            </small>
          </li>
        );
      })}
    </ol>
  );
}
