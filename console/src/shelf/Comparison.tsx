// What differs between two editions: the cards side by side, and the rest in words.
import type { components } from "../../client/src/schema.gen";
import { usePicture } from "../api/pictures";
import "./Comparison.css";
import { plural } from "../parts/plural";

export type Comparison = components["schemas"]["Comparison"];
type DeckChange = components["schemas"]["DeckChange"];
type Design = components["schemas"]["DesignShown"];

/** How many cards are new, changed and gone, in a sentence. */
export function inShort(c: Comparison): string {
  const decks = c.decks ?? [];
  const sum = (of: (d: DeckChange) => unknown[] | undefined) => decks.reduce((n, d) => n + (of(d)?.length ?? 0), 0);
  const parts = [
    [sum((d) => d.changed), "changed"],
    [sum((d) => d.added), "new"],
    [sum((d) => d.removed), "gone"],
    [sum((d) => d.moved), "in another deck"],
  ] as const;
  const cards = parts.flatMap(([n, what]) => (n ? [`${plural(n, "card")} ${what}`] : []));
  const laid = (c.zones?.length ?? 0) + (c.pieces?.length ?? 0);
  if (laid) cards.push(`${plural(laid, "zone or piece", "zones and pieces")} laid otherwise`);
  return cards.length ? `${cards.join(", ")}.` : "Nothing that lies on the table differs.";
}

export function ComparisonShown({ of }: { of: Comparison }) {
  const decks = of.decks ?? [];
  const card = (d: Design) => <Face design={d} />;
  const list = (title: string, all: Design[] | undefined) =>
    all?.length ? (
      <>
        <h4>{title}</h4>
        <div className="compared">
          {all.map((d) => (
            <figure key={d.key}>
              {card(d)}
              <figcaption>
                {d.name}
                {d.copies > 1 && ` × ${d.copies}`}
              </figcaption>
            </figure>
          ))}
        </div>
      </>
    ) : null;
  return (
    <div className="comparison">
      {decks.map((d) => (
        <section key={d.key} aria-label={`Deck ${d.key}`}>
          <h3>
            {d.key}
            {d.change !== "changed" && <span className="quiet"> {d.change === "added" ? "is new" : "is gone"}</span>}
          </h3>
          {d.of?.length ? <p className="quiet">Other: {d.of.join(", ")}.</p> : null}
          {d.changed?.length ? (
            <>
              <h4>Changed</h4>
              <div className="compared">
                {d.changed.map((c) => (
                  <figure key={c.after.key}>
                    <div className="compared-pair">
                      {card(c.before)}
                      <span aria-hidden="true">→</span>
                      {card(c.after)}
                    </div>
                    <figcaption>
                      {c.before.name === c.after.name ? c.after.name : `${c.before.name} → ${c.after.name}`}
                      {c.before.copies !== c.after.copies && `, ${c.before.copies} → ${plural(c.after.copies, "copy", "copies")}`}
                      {c.words?.map((w) => (
                        <span key={w.field} className="compared-words">
                          {w.field}: <del>{w.before}</del> <ins>{w.after}</ins>
                        </span>
                      ))}
                    </figcaption>
                  </figure>
                ))}
              </div>
            </>
          ) : null}
          {list("New", d.added)}
          {list("Gone", d.removed)}
          {list(
            "From other decks",
            d.moved?.map((m) => m.design),
          )}
        </section>
      ))}
      {[...(of.zones ?? []).map((z) => ({ ...z, kind: "zone" })), ...(of.pieces ?? []).map((p) => ({ ...p, kind: "piece" }))].length >
        0 && (
        <section>
          <h3>On the table</h3>
          <ul>
            {of.zones?.map((z) => (
              <li key={`zone ${z.key}`}>
                zone {z.key}: {words[z.change]}
              </li>
            ))}
            {of.pieces?.map((p) => (
              <li key={`piece ${p.key}`}>
                piece {p.key}: {words[p.change]}
              </li>
            ))}
          </ul>
        </section>
      )}
      {of.table?.length ? <p>Of the table: {of.table.join(", ")}.</p> : null}
      {of.kit?.length ? <p>Of the kit: {of.kit.join(", ")}.</p> : null}
    </div>
  );
}

const words = { added: "new", removed: "gone", changed: "changed" } as const;

function Face({ design }: { design: Design }) {
  const src = usePicture(design.front.small, "small");
  return <img src={src} alt={design.name} loading="lazy" />;
}
