// A deck: where its cards come from, their back and veil, and its designs as a
// table with copies and fields. One choice says what the backs are, so no half of
// another choice is left over.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { plural } from "../parts/plural";
import { core, during, edit, putFiles, useDraft } from "./draft";
import { beginLayout } from "./taking";
import { Choice, NumberField, TextField } from "./fields";
import { CardThumb, FaceThumb } from "./Thumb";
import { RowsTable } from "./RowsTable";
import { save } from "./save";
import type { DeckEntry, DesignEntry, Face } from "./types";
import "./DeckEditor.css";

export function DeckEditor({ name, onLayout }: { name: string; onLayout: (layout: string) => void }) {
  const { manifest } = useDraft();
  const deck = manifest.decks?.[name];
  if (!deck) return null;
  const zones = (manifest.table?.zones ?? []).filter((z) => !z.each && z.kind !== "grid");
  const set = (part: keyof DeckEntry, value: unknown) => edit(["decks", name, part], value);
  return (
    <section aria-label={`Deck ${name}`} className="bench-deck">
      <div className="bench-numbers">
        <Choice
          label="Outline"
          value={deck.outline ?? "rounded"}
          choices={[
            ["rounded", "rounded"],
            ["square", "square"],
            ["hexagon", "hexagon"],
            ["oval", "oval"],
          ]}
          onChange={(v) => set("outline", v)}
        />
        <Choice
          label="Lies"
          value={deck.lie ?? ""}
          choices={[
            ["", "as its pictures"],
            ["upright", "upright"],
            ["landscape", "landscape"],
          ]}
          onChange={(v) => set("lie", v)}
        />
        <NumberField
          label="Width, mm"
          value={deck.size?.[0] ?? 0}
          least={0}
          most={500}
          zero="by shape"
          onChange={(n) => set("size", n ? [n, deck.size?.[1] ?? n] : undefined)}
        />
        <NumberField
          label="Height, mm"
          value={deck.size?.[1] ?? 0}
          least={0}
          most={500}
          zero="by shape"
          onChange={(n) => set("size", n ? [deck.size?.[0] ?? n, n] : undefined)}
        />
        <Choice
          label="Home"
          value={deck.home ?? ""}
          choices={[["", "a pile of its own"], ...zones.map((z): [string, string] => [z.key, z.key])]}
          onChange={(v) => set("home", v || undefined)}
        />
      </div>
      <div className="bench-faces">
        <BackChoice name={name} deck={deck} />
        <VeilChoice name={name} deck={deck} />
      </div>
      {deck.rows ? <RowsDeck name={name} deck={deck} onLayout={onLayout} /> : <Designs name={name} deck={deck} />}
    </section>
  );
}

/** What is on the backs: one of a cell, a picture, a sheet with one for each, or what the layout draws. */
function BackChoice({ name, deck }: { name: string; deck: DeckEntry }) {
  const { files, manifest } = useDraft();
  const drawn = deck.layout ? (manifest.layouts?.[deck.layout]?.back?.length ?? 0) > 0 : false;
  const back = deck.back;
  const now = drawn ? "layout" : back?.each ? "each" : back?.file ? "file" : back?.cell ? "cell" : "";
  const pictures = Object.keys(files).filter((f) => /\.(png|jpe?g|gif|webp)$/i.test(f));
  const put = (face: Face | undefined) => edit(["decks", name, "back"], face);
  if (drawn) return <p className="quiet mb-0">The layout draws a back for each card.</p>;
  return (
    <fieldset className="bench-face">
      <legend>Back</legend>
      <Choice
        label="The backs are"
        value={now}
        choices={[
          ["", "plain, with its name"],
          ...(deck.rows
            ? []
            : ([
                ["cell", "one for all, a cell"],
                ["each", "one for each card, of a sheet"],
              ] as [string, string][])),
          ["file", "one for all, a picture"],
        ]}
        onChange={(v) =>
          put(
            v === "cell"
              ? { cell: 1 }
              : v === "each"
                ? { each: Object.keys(manifest.sheets ?? {})[0] }
                : v === "file"
                  ? { file: pictures[0] }
                  : undefined,
          )
        }
      />
      {now === "cell" && (
        <NumberField label="Cell" value={back?.cell ?? 1} least={1} most={1000} onChange={(cell) => put({ ...back, cell })} />
      )}
      {now === "each" && (
        <Choice
          label="Sheet of backs"
          value={back?.each ?? ""}
          choices={Object.keys(manifest.sheets ?? {}).map((s) => [s, s])}
          onChange={(each) => put({ each })}
        />
      )}
      {now === "file" && (
        <Choice label="Picture" value={back?.file ?? ""} choices={pictures.map((f) => [f, f])} onChange={(file) => put({ file })} />
      )}
      <FaceThumb face={back} sheet={deck.sheet ?? deck.from?.[0]?.sheet} outline={deck.outline} />
    </fieldset>
  );
}

function VeilChoice({ name, deck }: { name: string; deck: DeckEntry }) {
  const { files } = useDraft();
  const veil = deck.veil;
  const now = veil?.file ? "file" : veil?.cell ? "cell" : "";
  const pictures = Object.keys(files).filter((f) => /\.(png|jpe?g|gif|webp)$/i.test(f));
  const put = (face: Face | undefined) => edit(["decks", name, "veil"], face);
  return (
    <fieldset className="bench-face">
      <legend>Veil</legend>
      <Choice
        label="Others see"
        value={now}
        choices={[["", "the back"], ...(deck.rows ? [] : ([["cell", "a cell"]] as [string, string][])), ["file", "a picture"]]}
        onChange={(v) => put(v === "cell" ? { cell: 1 } : v === "file" ? { file: pictures[0] } : undefined)}
      />
      {now === "cell" && (
        <NumberField label="Cell" value={veil?.cell ?? 1} least={1} most={1000} onChange={(cell) => put({ ...veil, cell })} />
      )}
      {now === "file" && (
        <Choice label="Picture" value={veil?.file ?? ""} choices={pictures.map((f) => [f, f])} onChange={(file) => put({ file })} />
      )}
      {veil && <FaceThumb face={veil} sheet={deck.sheet ?? deck.from?.[0]?.sheet} outline={deck.outline} />}
    </fieldset>
  );
}

/** A deck of a table file: its rows, and the layout that draws them. */
function RowsDeck({ name, deck, onLayout }: { name: string; deck: DeckEntry; onLayout: (layout: string) => void }) {
  const { manifest } = useDraft();
  const begin = () =>
    during("beginning a layout", async () => {
      const layout = await beginLayout(name, deck.rows ?? "");
      if (layout) onLayout(layout);
    });
  return (
    <>
      <div className="bench-numbers">
        <Choice
          label="Layout"
          value={deck.layout ?? ""}
          choices={[["", "none: a column names each picture"], ...Object.keys(manifest.layouts ?? {}).map((l): [string, string] => [l, l])]}
          onChange={(v) => edit(["decks", name, "layout"], v)}
        />
        {deck.layout ? (
          <Button size="sm" variant="outline-primary" onClick={() => onLayout(deck.layout ?? "")}>
            Edit the layout
          </Button>
        ) : (
          <Button size="sm" variant="outline-primary" onClick={() => void begin()}>
            Begin a layout
          </Button>
        )}
      </div>
      <RowsTable deck={name} file={deck.rows ?? ""} layout={deck.layout} />
    </>
  );
}

/** The designs of a deck that is cut from sheets or made of loose pictures. */
function Designs({ name, deck }: { name: string; deck: DeckEntry }) {
  const { found } = useDraft();
  const made = found?.decks.find((d) => d.key === name);
  const cards = made?.copies;
  const [note, setNote] = useState("");
  const listed = deck.designs;
  const fields = [...new Set((listed ?? []).flatMap((d) => Object.keys(d.fields ?? {})))];
  const spellOut = () => edit(["decks", name, "designs"], made?.spelt_out);
  const put = (i: number, part: keyof DesignEntry, value: unknown) => edit(["decks", name, "designs", i, part], value);
  const addField = () => {
    const field = prompt("Name of the new field")?.trim();
    if (field) listed?.forEach((_, i) => edit(["decks", name, "designs", i, "fields"], { ...listed[i]?.fields, [field]: "" }));
  };
  const take = () =>
    during("writing the table file", async () => {
      const header = ["key", "name", "copies", ...fields];
      const cells = (listed ?? []).map((d) => [
        d.key ?? "",
        d.name ?? "",
        String(d.copies ?? 1),
        ...fields.map((f) => String(d.fields?.[f] ?? "")),
      ]);
      save(`${name}.csv`, await core().writeRows("", header, cells, `${name}.csv`));
    });
  const bring = (file: File | undefined) =>
    file &&
    during("reading the table file", async () => {
      await putFiles({ [file.name]: new Uint8Array(await file.arrayBuffer()) });
      const read = await core().rows(file.name);
      const column = (c: string) => read.header.findIndex((h) => h.toLowerCase() === c);
      const [key, copies, title] = [column("key"), column("copies"), column("name")];
      if (key < 0 || read.mistakes.length > 0)
        throw new Error(
          read.mistakes[0]
            ? `${file.name}, row ${read.mistakes[0].row}: ${read.mistakes[0].text}`
            : `${file.name} has no column "key"; export this deck to get a file to fill in.`,
        );
      let changed = 0;
      const designs = (listed ?? []).map((d) => {
        const row = read.cells.find((cells) => cells[key] === d.key);
        if (!row) return d;
        changed++;
        const more = Object.fromEntries(read.header.flatMap((h, i) => ([key, copies, title].includes(i) ? [] : [[h, row[i] ?? ""]])));
        return {
          ...d,
          name: (title >= 0 && row[title]) || d.name,
          copies: copies >= 0 && row[copies] ? Number(row[copies]) : d.copies,
          fields: more,
        };
      });
      edit(["decks", name, "designs"], designs);
      setNote(`${changed} of ${designs.length} designs were found in ${file.name}.`);
    });
  if (!listed) {
    return (
      <div>
        <p className="quiet">
          Every cell with content is a card, once each{cards ? `: ${plural(cards.length, "card")}` : ""}. Spell them out to give names,
          copies and fields.
        </p>
        <TextField label="Cells" value={deck.cells ?? ""} hint="all, or 1-24" onChange={(v) => edit(["decks", name, "cells"], v)} />
        <Button size="sm" className="mt-2" disabled={!cards?.length} onClick={spellOut}>
          Spell the designs out
        </Button>
      </div>
    );
  }
  return (
    <>
      <div className="bench-numbers">
        <strong>
          {plural(listed.length, "design")},{" "}
          {plural(
            listed.reduce((n, d) => n + (d.copies ?? 1), 0),
            "card",
          )}
        </strong>
        <Button size="sm" variant="outline-secondary" onClick={addField}>
          Add a field
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={() => void take()}>
          Export as a table file
        </Button>
        <label className="btn btn-sm btn-outline-secondary mb-0">
          Import a table file
          <input
            type="file"
            accept=".csv,.xlsx,.txt"
            hidden
            onChange={(e) => {
              void bring(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </label>
        {note && (
          <span role="status" className="quiet">
            {note}
          </span>
        )}
      </div>
      <div className="bench-table">
        <table className="table table-sm">
          <thead>
            <tr>
              <th>Card</th>
              <th>Cell</th>
              <th>Key</th>
              <th>Name</th>
              <th>Copies</th>
              {fields.map((f) => (
                <th key={f} dir="auto">
                  {f}
                </th>
              ))}
              <th />
            </tr>
          </thead>
          <tbody>
            {listed.map((d, i) => (
              <tr key={i}>
                <td>
                  <CardThumb sheet={d.sheet ?? deck.sheet ?? deck.from?.[0]?.sheet} cell={d.cell} file={d.file} outline={deck.outline} />
                </td>
                <td className="narrow">
                  <Form.Control
                    size="sm"
                    aria-label={`cell of design ${i + 1}`}
                    type="number"
                    min={1}
                    value={d.cell ?? ""}
                    onChange={(e) => put(i, "cell", Number(e.target.value) || undefined)}
                  />
                </td>
                <td>
                  <Form.Control
                    size="sm"
                    aria-label={`key of design ${i + 1}`}
                    value={d.key ?? ""}
                    onChange={(e) => put(i, "key", e.target.value)}
                  />
                </td>
                <td>
                  <Form.Control
                    size="sm"
                    aria-label={`name of design ${i + 1}`}
                    dir="auto"
                    value={d.name ?? ""}
                    onChange={(e) => put(i, "name", e.target.value)}
                  />
                </td>
                <td className="narrow">
                  <Form.Control
                    size="sm"
                    aria-label={`copies of design ${i + 1}`}
                    type="number"
                    min={0}
                    max={1000}
                    value={d.copies ?? 1}
                    onChange={(e) => put(i, "copies", e.target.value === "1" ? undefined : Number(e.target.value))}
                  />
                </td>
                {fields.map((f) => (
                  <td key={f}>
                    <Form.Control
                      size="sm"
                      aria-label={`${f} of design ${i + 1}`}
                      dir="auto"
                      value={String(d.fields?.[f] ?? "")}
                      onChange={(e) => put(i, "fields", { ...d.fields, [f]: typed(e.target.value) })}
                    />
                  </td>
                ))}
                <td>
                  <Button
                    size="sm"
                    variant="link"
                    aria-label={`remove design ${i + 1}`}
                    onClick={() => edit(["decks", name, "designs", i], undefined)}
                  >
                    ×
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** Numbers stay numbers in kit.yaml. */
const typed = (text: string): unknown => (text !== "" && String(Number(text)) === text ? Number(text) : text);
