// The rows of a table file, to be corrected without leaving the console. What was
// read is written back as it was written.
import { useEffect, useState, type ClipboardEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { plural } from "../parts/plural";
import { core, during, edit, inOrder, putFiles, useDraft } from "./draft";
import { cellsOf, pasted } from "./pasting";
import { save } from "./save";
import { DrawnCard } from "./Thumb";
import type { RowsRead } from "./types";

export function RowsTable({ deck, file, layout }: { deck: string; file: string; layout?: string }) {
  const { files, manifest } = useDraft();
  const of = file.split("#")[0] as string; // of a spreadsheet's table, the spreadsheet
  const bytes = files[of];
  const [read, setRead] = useState<RowsRead | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let current = true;
    core()
      .rows(file)
      .then(
        (r) => {
          if (current) {
            setRead(r);
            setProblem("");
          }
        },
        (p: unknown) => {
          if (current) setProblem(p instanceof Error ? p.message : String(p));
        },
      );
    return () => {
      current = false;
    };
  }, [file, bytes]);
  const write = (header: string[], cells: string[][], then?: () => void) => {
    setRead((r) => r && { ...r, header, cells });
    void during("", () =>
      inOrder(async () => {
        await putFiles({ [of]: await core().writeRows(file, header, cells, file) });
        then?.();
      }),
    );
  };
  const take = (as: string) =>
    during("writing the table file", async () => {
      if (read) save(as, as === of.split("/").pop() && bytes ? bytes : await core().writeRows(file, read.header, read.cells, as));
    });
  const bring = (chosen: File | undefined) =>
    chosen &&
    during("reading the table file", async () => {
      await putFiles({ [of]: new Uint8Array(await chosen.arrayBuffer()) });
    });
  if (problem)
    return (
      <p className="bench-wrong" role="alert">
        {file}: {problem}
      </p>
    );
  if (!read) return <p className="quiet">Reading {file} …</p>;
  const { copies, numbers } = read;
  const numberOf = (row: number) => numbers[row] ?? (numbers.at(-1) ?? 1) + 1 + row - numbers.length; // of one that was just added
  const count = (cells: string[]) => (copies < 0 || !cells[copies] ? 1 : Number(cells[copies]));
  const put = (row: number, column: number, value: string) =>
    write(
      read.header,
      read.cells.map((cells, r) => (r === row ? cells.map((c, i) => (i === column ? value : c)) : cells)),
    );
  const rename = (from: string, to: string) =>
    write(
      read.header.map((h) => (h === from ? to : h)),
      read.cells,
      () => {
        const drawn = layout && manifest.layouts?.[layout];
        if (drawn) edit(["layouts", layout], JSON.parse(JSON.stringify(drawn).replaceAll(`{${from}}`, `{${to}}`)), true);
      },
    );
  const paste = (e: ClipboardEvent, row: number, column: number) => {
    const cells = cellsOf(e.clipboardData);
    if (!cells) return;
    e.preventDefault();
    const all = pasted(read.header, read.cells, row, column, cells);
    write(all.header, all.cells);
  };
  const widths = read.header.map((h, i) => Math.min(36, Math.max(h.length, ...read.cells.map((cells) => cells[i]?.length ?? 0))));
  const base = of.split("/").pop() ?? file;
  return (
    <>
      <div className="bench-numbers">
        <strong>
          {plural(read.cells.length, "row")},{" "}
          {plural(
            read.cells.reduce((n, cells) => n + (count(cells) || 0), 0),
            "card",
          )}
        </strong>
        <Button size="sm" variant="outline-secondary" onClick={() => write(read.header, [...read.cells, read.header.map(() => "")])}>
          Add a row
        </Button>
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => {
            const c = prompt("Name of the new column")?.trim();
            if (c)
              write(
                [...read.header, c],
                read.cells.map((r) => [...r, ""]),
              );
          }}
        >
          Add a column
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={() => void take(base)}>
          Export {base}
        </Button>
        {!base.endsWith(".xlsx") && (
          <Button size="sm" variant="outline-secondary" onClick={() => void take(base.replace(/\.[a-z]+$/i, ".xlsx"))}>
            … as a spreadsheet
          </Button>
        )}
        <label className="btn btn-sm btn-outline-secondary mb-0">
          Import a newer file
          <input
            type="file"
            accept=".csv,.tsv,.txt,.xlsx"
            hidden
            onChange={(e) => {
              void bring(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </label>
      </div>
      {read.notes.map((note) => (
        <p key={note} className="mt-2 mb-0">
          {note.charAt(0).toUpperCase() + note.slice(1)}.
        </p>
      ))}
      <ul className="bench-warnings">
        {read.mistakes.map((m) => (
          <li key={`${m.row}${m.text}`}>
            row {m.row}
            {m.column ? `, ${m.column}` : ""}: {m.text}
          </li>
        ))}
      </ul>
      <div className="bench-table">
        <table className="table table-sm">
          <thead>
            <tr>
              {layout && <th>Card</th>}
              <th>Row</th>
              {read.header.map((h) => (
                <th key={h}>
                  <ColumnName name={h} taken={read.header} onRename={(to) => rename(h, to)} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {read.cells.map((cells, row) => (
              <tr key={row} className={read.mistakes.some((m) => m.row === numberOf(row)) ? "table-warning" : ""}>
                {layout && (
                  <td>
                    <DrawnCard
                      deck={deck}
                      row={row}
                      face="front"
                      size={manifest.layouts?.[layout]?.size ?? [5, 7]}
                      high={64}
                      mark={JSON.stringify([cells, manifest.layouts?.[layout]])}
                    />
                  </td>
                )}
                <td className="quiet">{numberOf(row)}</td>
                {cells.map((cell, column) => (
                  <td key={column} className={column === copies ? "narrow" : ""}>
                    {cell.length > 36 || cell.includes("\n") ? (
                      <Form.Control
                        as="textarea"
                        size="sm"
                        aria-label={`${read.header[column]} of row ${numberOf(row)}`}
                        dir="auto"
                        value={cell}
                        onPaste={(e) => paste(e, row, column)}
                        rows={2}
                        onChange={(e) => put(row, column, e.target.value)}
                      />
                    ) : (
                      <Form.Control
                        size="sm"
                        htmlSize={widths[column]}
                        aria-label={`${read.header[column]} of row ${numberOf(row)}`}
                        dir="auto"
                        value={cell}
                        onPaste={(e) => paste(e, row, column)}
                        placeholder={column === copies ? "1" : ""}
                        onChange={(e) => put(row, column, e.target.value)}
                      />
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** The name of a column, which is typed in place; a name that another column has is not taken. */
function ColumnName({ name, taken, onRename }: { name: string; taken: string[]; onRename: (to: string) => void }) {
  const [typing, setTyping] = useState(name);
  const done = () => {
    const to = typing.trim();
    if (to && to !== name && !taken.some((other) => other !== name && other.toLowerCase() === to.toLowerCase())) onRename(to);
    else setTyping(name);
  };
  return (
    <Form.Control
      size="sm"
      dir="auto"
      aria-label={`the column ${name}`}
      value={typing}
      onChange={(e) => setTyping(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
    />
  );
}
