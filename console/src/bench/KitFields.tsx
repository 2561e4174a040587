// The kit as a whole: its name, its seats, what it says of itself, and its decks.
import { plural } from "../parts/plural";
import { limits } from "../api/tables.gen";
import { edit, useDraft } from "./draft";
import { Choice, NumberField, TextField } from "./fields";

export function KitFields() {
  const { manifest, found, files } = useDraft();
  const cards =
    found?.decks.map((d) => ({ key: d.key, designs: d.copies.length, cards: d.copies.reduce((n, c) => n + c.copies, 0) })) ?? [];
  const of = (shape: RegExp) =>
    Object.keys(files)
      .filter((f) => shape.test(f))
      .map((f): [string, string] => [f, f]);
  return (
    <section aria-label="The kit">
      <div className="bench-numbers">
        <TextField label="Name" value={manifest.name ?? ""} onChange={(v) => edit(["name"], v ?? "")} />
        <TextField wide label="About" value={manifest.about ?? ""} onChange={(v) => edit(["about"], v)} />
        <NumberField label="Seats" value={manifest.seats ?? 1} least={1} most={limits.seats} onChange={(n) => edit(["seats"], n)} />
      </div>
      <div className="bench-numbers">
        <Choice
          label="Picture on the shelf"
          value={manifest.picture ?? ""}
          choices={[["", "a fan of its cards"], ...of(/\.(png|jpe?g|gif|webp)$/i)]}
          onChange={(v) => edit(["picture"], v || undefined)}
        />
        <Choice
          label="Description"
          value={manifest.description ?? ""}
          choices={[["", "none"], ...of(/\.(md|txt)$/i)]}
          onChange={(v) => edit(["description"], v || undefined)}
        />
        <Choice
          label="Rules"
          value={manifest.rules ?? ""}
          choices={[["", "none"], ...of(/\.(md|txt|pdf)$/i)]}
          onChange={(v) => edit(["rules"], v || undefined)}
        />
      </div>
      <table className="table table-sm bench-decks">
        <thead>
          <tr>
            <th>Deck</th>
            <th>Designs</th>
            <th>Cards</th>
          </tr>
        </thead>
        <tbody>
          {cards.map((c) => (
            <tr key={c.key}>
              <td>{c.key}</td>
              <td>{c.designs}</td>
              <td>{c.cards}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        {plural(Object.keys(files).length, "file")}. Descriptions and rules are files of Markdown; rules may be a PDF. The table is arranged
        with &ldquo;Table&rdquo;, and tried alone with &ldquo;Try it&rdquo;.
      </p>
    </section>
  );
}
