// What looks wrong in the kit, each with the way to its place.
import type { Found } from "./types";
import { useDraft } from "./draft";
import "./Problems.css";

export interface Trouble {
  text: string;
  mistake: boolean;
  file?: string;
  path?: string;
}

/** What looks wrong stands so among mistakes: beside them it is told as well. */
const warns = "warning: ";

const warning = (text: string): Trouble => ({
  text,
  mistake: false,
  file: text.split(/[:,]/)[0],
  path: /^(decks|layouts|sheets)\.[^:]*/.exec(text)?.[0],
});

/** Mistakes first: with them the kit cannot be kept. */
export function problemsOf(found: Found | null): Trouble[] {
  if (!found) return [];
  return [
    ...found.mistakes.map((m) =>
      m.text.startsWith(warns)
        ? warning(m.text.slice(warns.length))
        : { text: `${m.file === "kit.yaml" && m.path ? m.path : m.file}: ${m.text}`, mistake: true, file: m.file, path: m.path },
    ),
    ...found.warnings.map(warning),
  ];
}

type Place = { what: "sheet" | "deck" | "layout"; name: string };

/** Where a problem is mended, if that is a part of the bench. */
function usePlaceOf(): (t: Trouble) => Place | undefined {
  const { manifest } = useDraft();
  return (t) => {
    const [group, name] = (t.path ?? "").replace(/\[.*/, "").split(".");
    if (name) {
      if (group === "decks") return { what: "deck", name };
      if (group === "sheets") return { what: "sheet", name };
      if (group === "layouts") return { what: "layout", name };
    }
    const sheet = Object.entries(manifest.sheets ?? {}).find(([, s]) => s.file === t.file)?.[0];
    if (sheet) return { what: "sheet", name: sheet };
    const deck = Object.entries(manifest.decks ?? {}).find(([, d]) => d.rows === t.file)?.[0];
    return deck ? { what: "deck", name: deck } : undefined;
  };
}

export function Problems({
  problems,
  here,
  onOpen,
}: {
  problems: Trouble[];
  here?: Place;
  onOpen: (what: Place["what"], name: string) => void;
}) {
  const placeOf = usePlaceOf();
  const shown = here
    ? problems.filter((t) => {
        const p = placeOf(t);
        return p?.what === here.what && p.name === here.name;
      })
    : problems;
  if (shown.length === 0 || (here?.what === "sheet" && !shown.some((t) => t.mistake))) return null; // a sheet shows its own warnings
  return (
    <section className="bench-problems" aria-label="What looks wrong">
      <h2>{here ? "To look at here" : "To look at"}</h2>
      <ul>
        {shown.slice(0, 60).map((t, i) => {
          const place = placeOf(t);
          return (
            <li key={i} className={t.mistake ? "mistake" : "warning"}>
              <strong>{t.mistake ? "Mistake" : "Warning"}</strong> {t.text}
              {place && !here && (
                <button type="button" className="btn btn-link btn-sm" onClick={() => onOpen(place.what, place.name)}>
                  go there
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
