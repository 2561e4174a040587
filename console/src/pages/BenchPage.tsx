// The bench: a kit being made. Everything is looked over as the service would, in
// the browser; nothing is stored before Keep.
import { useCallback, useEffect, useRef, useState, type DragEvent } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { sentence, type Problem } from "../api/client";
import type { components } from "../api/schema.gen";
import { DeckEditor } from "../bench/DeckEditor";
import { during, edit, freeName, isPicture, isTableFile, openDraft, putFiles, useDraft, zipped } from "../bench/draft";
import { TextField, NumberField } from "../bench/fields";
import { LayoutEditor } from "../bench/LayoutEditor";
import { PackPanel } from "../bench/PackPanel";
import { Problems, problemsOf } from "../bench/Problems";
import { save } from "../bench/save";
import { SheetEditor } from "../bench/SheetEditor";
import { limits } from "../api/tables.gen";
import { useMakerKey } from "../api/makerKey";
import "./bar.css";
import "./BenchPage.css";

type Open = { what: "kit" } | { what: "sheet" | "deck" | "layout"; name: string } | { what: "pack"; files: string[] };

export function BenchPage() {
  const { manifest, files, found, checking, changed, busy, error } = useDraft();
  const [open, setOpen] = useState<Open>({ what: "kit" });
  const [kept, setKept] = useState("");
  const [over, setOver] = useState(false);
  const { key, setKey } = useMakerKey();
  const ready = Object.keys(files).length > 0;
  useEffect(() => {
    const warn = (e: BeforeUnloadEvent) => {
      if (changed) e.preventDefault();
    };
    addEventListener("beforeunload", warn);
    return () => removeEventListener("beforeunload", warn);
  }, [changed]);
  const take = useCallback(async (list: { name: string; bytes: Uint8Array }[]) => {
    const zip = list.find((f) => f.name.endsWith(".zip"));
    if (zip) {
      await openDraft(zip.bytes);
      setOpen({ what: "kit" });
      return;
    }
    const manifestGiven = list.find((f) => f.name.endsWith("kit.yaml"));
    if (manifestGiven || Object.keys(useDraft.getState().files).length === 0) await openDraft();
    const folder = manifestGiven ? manifestGiven.name.slice(0, -"kit.yaml".length) : "";
    await putFiles(Object.fromEntries(list.map((f) => [f.name.startsWith(folder) ? f.name.slice(folder.length) : f.name, f.bytes])));
    if (manifestGiven) {
      setOpen({ what: "kit" });
      return;
    }
    const pictures = list.filter((f) => isPicture(f.name)).map((f) => f.name);
    const tables = list.filter((f) => isTableFile(f.name)).map((f) => f.name);
    const { manifest: now } = useDraft.getState();
    if (pictures.length > 1) setOpen({ what: "pack", files: pictures });
    else if (pictures[0]) {
      const name = freeName(pictures[0], now.sheets);
      edit(["sheets", name], { file: pictures[0] });
      setOpen({ what: "sheet", name });
    } else if (tables[0]) {
      const name = freeName(tables[0], now.decks);
      edit(["decks", name], { rows: tables[0], home: now.table?.zones?.find((z) => z.kind === "pile" && !z.each)?.key ?? "" });
      setOpen({ what: "deck", name });
    }
  }, []);
  const dropped = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    const entries = Array.from(e.dataTransfer.items, (i) => i.webkitGetAsEntry()).filter((i) => i !== null);
    const { files: plain } = e.dataTransfer; // where the browser tells of no folders
    void during("reading the files", async () =>
      take(entries.length ? (await Promise.all(entries.map((entry) => filesOf(entry, "")))).flat() : await chosen(plain)),
    );
  };
  const keep = () =>
    during("keeping the kit", async () => {
      setKept("");
      const answer = await putKit(zipped(useDraft.getState().files), key, false);
      useDraft.setState({ changed: false });
      setKept(
        answer.fresh
          ? `Kept as edition ${answer.edition} of ${answer.name}.`
          : `Nothing has changed since edition ${answer.edition} of ${answer.name}.`,
      );
    });
  const problems = problemsOf(found);
  return (
    <div
      className="bench"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
    >
      <header className="table-bar">
        <h1>Bench{manifest.name ? `: ${manifest.name}` : ""}</h1>
        <span className="quiet" role="status">
          {busy ||
            (checking
              ? "looking the kit over …"
              : ready
                ? problems.length
                  ? `${problems.length} to look at`
                  : "nothing looks wrong"
                : "")}
        </span>
        <span className="ms-auto" role="status">
          {kept}
          {!kept && changed ? "Not kept yet" : ""}
        </span>
        {ready && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => save(`${freeName(manifest.name ?? "kit", undefined)}.zip`, zipped(files))}
          >
            Take away as a zip
          </Button>
        )}
        {ready && (
          <Button
            size="sm"
            disabled={!!busy || !key || (found?.mistakes.length ?? 1) > 0}
            title={key ? "" : "Give your maker key first"}
            onClick={() => void keep()}
          >
            Keep
          </Button>
        )}
      </header>
      {error && (
        <p className="bench-wrong" role="alert">
          {error}
        </p>
      )}
      {!ready ? (
        <Begin
          apiKey={key}
          onKey={setKey}
          onFiles={(list) => void during("reading the files", () => take(list))}
          onEmpty={() => void openDraft()}
        />
      ) : (
        <div className="bench-body">
          <Parts
            open={open}
            onOpen={setOpen}
            onFiles={(list) => void during("reading the files", () => take(list))}
            apiKey={key}
            onKey={setKey}
          />
          <main className="bench-main">
            {open.what === "kit" && <KitFields />}
            {(open.what === "sheet" || open.what === "deck" || open.what === "layout") && (
              <PartTitle what={open.what} name={open.name} onRemoved={() => setOpen({ what: "kit" })} />
            )}
            {open.what === "sheet" && <SheetEditor key={open.name} name={open.name} onDeck={(name) => setOpen({ what: "deck", name })} />}
            {open.what === "deck" && <DeckEditor key={open.name} name={open.name} onLayout={(name) => setOpen({ what: "layout", name })} />}
            {open.what === "layout" && <LayoutEditor key={open.name} name={open.name} />}
            {open.what === "pack" && (
              <PackPanel files={open.files} onDone={(name) => setOpen({ what: "sheet", name })} onCancel={() => setOpen({ what: "kit" })} />
            )}
            <Problems
              problems={problems}
              here={open.what === "kit" || open.what === "pack" ? undefined : open}
              onOpen={(what, name) => setOpen({ what, name })}
            />
          </main>
        </div>
      )}
      {over && (
        <div className="bench-over" aria-hidden="true">
          Drop a sheet, loose pictures, a table file, or a whole kit
        </div>
      )}
    </div>
  );
}

interface Taken {
  name: string;
  bytes: Uint8Array;
}

/** The files of what was dropped, folders with all that is in them. */
async function filesOf(entry: FileSystemEntry, folder: string): Promise<Taken[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((ok, no) => (entry as FileSystemFileEntry).file(ok, no));
    return [{ name: folder + file.name, bytes: new Uint8Array(await file.arrayBuffer()) }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((ok, no) => reader.readEntries(ok, no));
    if (some.length === 0) break;
    all.push(...some);
  }
  return (await Promise.all(all.filter((e) => !e.name.startsWith(".")).map((e) => filesOf(e, `${folder}${entry.name}/`)))).flat();
}

async function chosen(list: FileList | null): Promise<Taken[]> {
  return Promise.all(
    Array.from(list ?? [], async (f) => ({ name: f.webkitRelativePath || f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
  );
}

type KitPut = components["schemas"]["KitPut"];

/** Puts the kit on the shelf. Warnings were shown before, and are asked about once. */
async function putKit(zip: Uint8Array, key: string, despite: boolean): Promise<KitPut> {
  const response = await fetch(`/api/kits${despite ? "?despite_warnings=true" : ""}`, {
    method: "POST",
    headers: { "Content-Type": "application/zip", Authorization: `Bearer ${key}` },
    body: zip as BodyInit,
  });
  if (response.ok) return (await response.json()) as KitPut;
  const problem = (await response.json().catch(() => undefined)) as Problem | undefined;
  if (
    problem?.code === "kit-looks-wrong" &&
    !despite &&
    confirm(`${problem.details?.slice(0, 8).join("\n") ?? ""}\n\nKeep it despite these warnings?`)
  )
    return putKit(zip, key, true);
  throw new Error(sentence(problem));
}

interface ShelfKit {
  id: string;
  name: string;
  edition: number;
}

function Begin({
  apiKey,
  onKey,
  onFiles,
  onEmpty,
}: {
  apiKey: string;
  onKey: (key: string) => void;
  onFiles: (list: Taken[]) => void;
  onEmpty: () => void;
}) {
  const [kits, setKits] = useState<ShelfKit[] | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    if (!apiKey) return;
    let current = true;
    fetch("/api/kits", { headers: { Authorization: `Bearer ${apiKey}` } })
      .then(async (r) => {
        if (!current) return;
        if (r.ok) {
          setKits(((await r.json()) as { kits: ShelfKit[] }).kits);
          setProblem("");
        } else {
          setKits(null);
          setProblem(sentence((await r.json()) as Problem));
        }
      })
      .catch(() => setProblem(sentence(undefined)));
    return () => {
      current = false;
    };
  }, [apiKey]);
  const openKit = (k: ShelfKit) =>
    during(`opening ${k.name}`, async () => {
      const r = await fetch(`/api/kits/${encodeURIComponent(k.id)}/zip`, { headers: { Authorization: `Bearer ${apiKey}` } });
      if (!r.ok) throw new Error(sentence((await r.json()) as Problem));
      await openDraft(new Uint8Array(await r.arrayBuffer()));
    });
  return (
    <main className="bench-begin">
      <section>
        <h2>Begin with what you have</h2>
        <p>
          Drop a sheet of cards here, loose pictures, a table file (CSV or spreadsheet), or a kit as a folder or a zip. You see what becomes
          of it before anything is kept.
        </p>
        <div className="bench-numbers">
          <label className="btn btn-primary mb-0">
            Choose files
            <input type="file" multiple hidden onChange={(e) => void chosen(e.target.files).then(onFiles)} />
          </label>
          <Button variant="outline-primary" onClick={onEmpty}>
            Begin an empty kit
          </Button>
        </div>
      </section>
      <section>
        <h2>Or go on with a kit of your shelf</h2>
        <MakerKey value={apiKey} onChange={onKey} />
        {problem && (
          <p className="bench-wrong" role="alert">
            {problem}
          </p>
        )}
        {kits?.length === 0 && <p className="quiet">Your shelf is empty.</p>}
        <ul className="bench-shelf">
          {kits?.map((k) => (
            <li key={k.id}>
              <Button variant="outline-primary" onClick={() => void openKit(k)}>
                {k.name} <small>edition {k.edition}</small>
              </Button>
            </li>
          ))}
        </ul>
        <p className="quiet">
          Looking for a room? <Link to="/">Open its link</Link>.
        </p>
      </section>
    </main>
  );
}

function MakerKey({ value, onChange }: { value: string; onChange: (key: string) => void }) {
  return (
    <TextField
      wide
      label="Maker key"
      value={value}
      hint="printed when the service starts; kept in this browser"
      onChange={(v) => onChange(v ?? "")}
    />
  );
}

function Parts({
  open,
  onOpen,
  onFiles,
  apiKey,
  onKey,
}: {
  open: Open;
  onOpen: (open: Open) => void;
  onFiles: (list: Taken[]) => void;
  apiKey: string;
  onKey: (key: string) => void;
}) {
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
        <Button size="sm" variant="outline-secondary" className="mt-1" onClick={() => onOpen({ what: "pack", files: looseFolder(loose) })}>
          Pack loose pictures …
        </Button>
      )}
      {!apiKey && (
        <div className="mt-3">
          <MakerKey value={apiKey} onChange={onKey} />
        </div>
      )}
    </nav>
  );
}

/** The part being worked on, and the way to take it out of the kit. Its files stay. */
function PartTitle({ what, name, onRemoved }: { what: "sheet" | "deck" | "layout"; name: string; onRemoved: () => void }) {
  const remove = () => {
    if (!confirm(`Take the ${what} "${name}" out of the kit? Its files stay.`)) return;
    edit([`${what}s`, name], undefined);
    onRemoved();
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
function looseFolder(loose: string[]): string[] {
  const folders = new Map<string, string[]>();
  for (const f of loose) {
    const folder = f.slice(0, f.lastIndexOf("/") + 1);
    folders.set(folder, [...(folders.get(folder) ?? []), f]);
  }
  return [...folders.values()].sort((a, b) => b.length - a.length)[0] ?? loose;
}

function KitFields() {
  const { manifest, found, files } = useDraft();
  const cards =
    found?.decks.map((d) => ({ key: d.key, designs: d.copies.length, cards: d.copies.reduce((n, c) => n + c.copies, 0) })) ?? [];
  return (
    <section aria-label="The kit">
      <div className="bench-numbers">
        <TextField label="Name" value={manifest.name ?? ""} onChange={(v) => edit(["name"], v ?? "")} />
        <TextField wide label="About" value={manifest.about ?? ""} onChange={(v) => edit(["about"], v)} />
        <NumberField label="Seats" value={manifest.seats ?? 1} least={1} most={limits.seats} onChange={(n) => edit(["seats"], n)} />
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
      <p className="quiet">{Object.keys(files).length} files. The table is arranged in a room of this kit, and kept from there.</p>
    </section>
  );
}
