// Loose pictures, packed to a sheet as they are dropped. Nothing goes into the kit
// before it is said to.
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { addressOf, core, during, edit, putFiles, type Files } from "./draft";
import { freeKey } from "./keys";
import { makeDeck, takenKeys } from "./taking";
import { CheckField, Choice, NumberField, TextField } from "./fields";
import type { Loose, Noted, Packed, Packing } from "./types";
import { plural } from "../parts/plural";
import "./PackPanel.css";

export function PackPanel({ loose, onDone, onCancel }: { loose: Loose; onDone: (sheet: string) => void; onCancel: () => void }) {
  const { files } = loose;
  const [packing, setPacking] = useState<Packing>({});
  const [done, setDone] = useState<{ of: string; sheets: Packed[]; problem: string }>({ of: "", sheets: [], problem: "" });
  const asked = JSON.stringify([files, packing]);
  const working = done.of !== asked;
  const { sheets: packed, problem } = done;
  const [name, setName] = useState(loose.key);
  useEffect(() => {
    let current = true;
    const [names, how] = JSON.parse(asked) as [string[], Packing];
    core()
      .pack(
        names.filter((f) => f !== how.veil),
        how,
      )
      .then(
        (sheets) => {
          if (current) setDone({ of: asked, sheets, problem: "" });
        },
        (p: unknown) => {
          if (current) setDone({ of: asked, sheets: [], problem: p instanceof Error ? p.message : String(p) });
        },
      );
    return () => {
      current = false;
    };
  }, [asked]);
  const set = (part: Partial<Packing>) => setPacking((p) => ({ ...p, ...part }));
  const keep = () =>
    during("putting the sheet into the kit", async () => {
      const noted = await core().noted(
        packed.map((one) => one.list),
        packing,
        name,
        takenKeys(),
      );
      const added: Files = {};
      noted.forEach((one, i) => {
        added[one.file] = (packed[i] as Packed).png;
        added[one.list_file] = new TextEncoder().encode(one.list);
      });
      await putFiles(added);
      for (const one of noted) edit(["sheets", one.key], { file: one.file }, true);
      const first = (noted[0] as Noted).key;
      const deck = makeDeck(first, true); // it takes the other sheets as well
      if (packing.veil) edit(["decks", deck, "veil"], { file: packing.veil }, true);
      onDone(first);
    });
  return (
    <section aria-label="Pack pictures" className="bench-pack">
      <h2>Pack {plural(files.length, "picture")} to a sheet</h2>
      <div className="bench-numbers">
        <TextField label="Name" value={name} onChange={(v) => setName(freeKey(v ?? "", "cards", undefined))} />
        <NumberField
          label="Columns"
          value={packing.columns ?? 0}
          least={0}
          most={100}
          zero="chosen"
          onChange={(columns) => set({ columns: columns ?? 0 })}
        />
        <NumberField
          label="Rows"
          value={packing.rows ?? 0}
          least={0}
          most={100}
          zero="chosen"
          onChange={(rows) => set({ rows: rows ?? 0 })}
        />
        <Choice
          label="Cards lie"
          value={packing.lie ?? ""}
          choices={[
            ["", "as most do"],
            ["upright", "upright"],
            ["landscape", "landscape"],
          ]}
          onChange={(lie) => set({ lie: lie ?? "" })}
        />
        <NumberField label="Longest side" value={packing.longest ?? 8192} least={64} most={8192} onChange={(longest) => set({ longest })} />
        <Choice
          label="Veil, not packed"
          value={packing.veil ?? ""}
          choices={[["", "none"], ...files.map((f): [string, string] => [f, f])]}
          onChange={(veil) => set({ veil: veil ?? "" })}
        />
        <CheckField label="fit other shapes" value={packing.fit ?? false} onChange={(fit) => set({ fit })} />
      </div>
      {problem && (
        <p className="bench-wrong" role="alert">
          {problem}
        </p>
      )}
      {working && (
        <p className="quiet" role="status">
          Packing …
        </p>
      )}
      {packed.map((one, i) => (
        <figure key={i} className="packed-sheet">
          <img
            src={addressOf(one.png)}
            alt={`The packed sheet, ${plural(one.list.columns, "column")} by ${plural(one.list.rows, "row")}`}
          />
          <figcaption>
            {plural(one.list.count, "card")}, {plural(one.list.columns, "column")} × {plural(one.list.rows, "row")}, {one.wide} × {one.high}{" "}
            pixels, each card {one.list.card[0]} × {one.list.card[1]}
            {one.list.scale < 1 ? ` (scaled to ${Math.round(one.list.scale * 100)} %)` : ""}.
            {one.list.sources
              .filter((s) => s.turned)
              .map((s) => (
                <span key={s.cell}> {s.file} lay on its side and was turned.</span>
              ))}
          </figcaption>
        </figure>
      ))}
      <div className="bench-numbers">
        <Button disabled={packed.length === 0 || working} onClick={() => void keep()}>
          Put it into the kit
        </Button>
        <Button variant="outline-secondary" onClick={onCancel}>
          Leave the pictures loose
        </Button>
      </div>
    </section>
  );
}
