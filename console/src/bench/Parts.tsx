// The parts of a kit, to choose which one is worked on.
import { useRef } from "react";
import Button from "react-bootstrap/Button";
import { askFor } from "../parts/Asking";
import { edit, isPicture, useDraft } from "./draft";
import { freeKey } from "./keys";
import { chosen, type Open, type Taken } from "./taking";
import type { Loose } from "./types";

export function Parts({ open, onOpen, onFiles }: { open: Open; onOpen: (open: Open) => void; onFiles: (list: Taken[]) => void }) {
  const { manifest, files } = useDraft();
  const input = useRef<HTMLInputElement>(null);
  const loose = Object.keys(files).filter((f) => isPicture(f) && !Object.values(manifest.sheets ?? {}).some((s) => s.file === f));
  const group = (what: "sheet" | "deck" | "layout", title: string, all: object | undefined) => (
    <>
      <h2>{title}</h2>
      <ul>
        {Object.keys(all ?? {}).map((name) => (
          <li key={name}>
            <button
              type="button"
              className={open.what === what && open.name === name ? "chosen" : ""}
              aria-current={open.what === what && open.name === name}
              onClick={() => onOpen({ what, name })}
            >
              {name}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
  return (
    <nav className="bench-parts" aria-label="Parts of the kit">
      <ul>
        <li>
          <button type="button" className={open.what === "kit" ? "chosen" : ""} onClick={() => onOpen({ what: "kit" })}>
            The kit
          </button>
        </li>
      </ul>
      {group("sheet", "Sheets", manifest.sheets)}
      {group("deck", "Decks", manifest.decks)}
      {group("layout", "Layouts", manifest.layouts)}
      <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
        Add files …
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        onChange={(e) => {
          void chosen(e.target.files).then(onFiles);
          e.target.value = "";
        }}
      />
      {loose.length > 1 && (
        <Button
          size="sm"
          variant="outline-secondary"
          className="mt-1"
          onClick={() => onOpen({ what: "pack", loose: [looseFolder(loose)] })}
        >
          Pack loose pictures …
        </Button>
      )}
    </nav>
  );
}

/** The part being worked on, and the way to take it out of the kit. Its files stay. */
export function PartTitle({ what, name, onRemoved }: { what: "sheet" | "deck" | "layout"; name: string; onRemoved: () => void }) {
  const remove = () => {
    askFor({ question: `Take the ${what} ${name} out of the kit?`, detail: "Its files stay.", yes: "Take it out" }, () => {
      edit([`${what}s`, name], undefined);
      onRemoved();
    });
  };
  return (
    <div className="bench-title">
      <h2>{name}</h2>
      <Button size="sm" variant="link" onClick={remove}>
        Remove this {what}
      </Button>
    </div>
  );
}

/** Loose pictures of the folder that has most of them. */
function looseFolder(all: string[]): Loose {
  const folders = new Map<string, string[]>();
  for (const f of all) {
    const folder = f.slice(0, Math.max(0, f.lastIndexOf("/")));
    folders.set(folder, [...(folders.get(folder) ?? []), f]);
  }
  const [folder, files] = [...folders].sort(([, a], [, b]) => b.length - a.length)[0] ?? ["", all];
  const key = freeKey(folder.split("/").at(-1) ?? "", "cards", useDraft.getState().manifest.sheets);
  return { key, folder, files, sheet: `${key}.png` };
}
