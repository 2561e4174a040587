// The bench: a kit being made. Everything is looked over as the service would, in
// the browser; nothing is sent before Keep, and the draft stays in this browser until then.
import { lazy, Suspense, useEffect, useState, type DragEvent } from "react";
import Button from "react-bootstrap/Button";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { Begin } from "../bench/Begin";
import { DeckEditor } from "../bench/DeckEditor";
import { core, during, inTurn, openDraft, redo, undo, unzipped, useDraft, zipped } from "../bench/draft";
import { freeKey } from "../bench/keys";
import { Keep } from "../bench/Keep";
import { goOnWith, keepDrafts, keptDraft, useNotKept } from "../bench/keptDraft";
import { KitFields } from "../bench/KitFields";
import { LayoutEditor } from "../bench/LayoutEditor";
import { PackPanel } from "../bench/PackPanel";
import { Parts, PartTitle } from "../bench/Parts";
import { Problems, problemsOf } from "../bench/Problems";
import { save } from "../bench/save";
import { SheetEditor } from "../bench/SheetEditor";
import type { Loose } from "../bench/types";
import { chosen, filesOf, take, type Open, type Taken } from "../bench/taking";
import { asMaker, given, useBroughtKey } from "../maker/maker";
import { MakerMenu } from "../maker/MakerMenu";
import "./bar.css";
import "./BenchPage.css";

const TryTable = lazy(() => import("./TryTable").then((m) => ({ default: m.TryTable })));

export function BenchPage() {
  const { manifest, files, found, checking, changed, of, past, future, busy, error, left } = useDraft();
  const [open, setOpen] = useState<Open>({ what: "kit" });
  const [over, setOver] = useState(false);
  const [trying, setTrying] = useState<"" | "play" | "arrange">("");
  const { why: notKept } = useNotKept();
  const ready = Object.keys(files).length > 0;
  useBroughtKey();
  useEffect(keepDrafts, []);
  useOpened(() => setOpen({ what: "kit" }));
  useEffect(() => {
    const warn = (e: BeforeUnloadEvent) => {
      if (changed && notKept) e.preventDefault();
    };
    addEventListener("beforeunload", warn);
    return () => removeEventListener("beforeunload", warn);
  }, [changed, notKept]);
  useHistoryKeys();
  const takeIn = (reading: Promise<Taken[]>) =>
    void inTurn(() =>
      during("reading the files", async () => {
        const shown = await take(await reading);
        if (shown) setOpen(shown);
      }),
    );
  const dropped = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    const entries = Array.from(e.dataTransfer.items, (i) => i.webkitGetAsEntry()).filter((i) => i !== null);
    const { files: plain } = e.dataTransfer; // where the browser tells of no folders
    takeIn(entries.length ? Promise.all(entries.map((entry) => filesOf(entry, ""))).then((all) => all.flat()) : chosen(plain));
  };
  const problems = problemsOf(found);
  const doing =
    busy ||
    (checking ? "looking the kit over …" : ready ? (problems.length ? `${problems.length} to look at` : "nothing looks wrong") : "");
  if (trying) {
    return (
      <Suspense fallback={<p className="doorway">Laying the table …</p>}>
        <TryTable arrange={trying === "arrange"} onBack={() => setTrying("")} />
      </Suspense>
    );
  }
  const wrong = (found?.mistakes.length ?? 1) > 0 || checking;
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
        <Link to="/">Shelf</Link>
        <h1>Bench{manifest.name ? `: ${manifest.name}` : ""}</h1>
        <span className="quiet" role="status">
          {doing}
        </span>
        <span className="ms-auto quiet text-nowrap">{ready && standing(changed, of)}</span>
        {ready && (
          <>
            <Button size="sm" variant="outline-secondary" disabled={past.length === 0} onClick={() => void undo()}>
              Undo
            </Button>
            <Button size="sm" variant="outline-secondary" disabled={future.length === 0} onClick={() => void redo()}>
              Redo
            </Button>
            <Button size="sm" variant="outline-primary" disabled={wrong} data-leads onClick={() => setTrying("arrange")}>
              Table
            </Button>
            <Button size="sm" variant="outline-primary" disabled={wrong} data-leads onClick={() => setTrying("play")}>
              Try it
            </Button>
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => save(`${freeKey(manifest.name ?? "", "kit", undefined)}.zip`, zipped(files))}
            >
              Take away
            </Button>
            <Keep />
          </>
        )}
        <MakerMenu />
      </header>
      {[error, notKept].filter(Boolean).map((text) => (
        <p key={text} className="bench-wrong" role="alert">
          {text}
        </p>
      ))}
      {left.length > 0 && (
        <div className="bench-left" role="status">
          {left.map((text) => (
            <p key={text}>{text}</p>
          ))}
          <Button size="sm" variant="outline-secondary" onClick={() => useDraft.setState({ left: [] })}>
            Done
          </Button>
        </div>
      )}
      {!ready ? (
        <Begin onFiles={(list) => takeIn(Promise.resolve(list))} onEmpty={() => void openDraft()} />
      ) : (
        <div className="bench-body">
          <Parts open={open} onOpen={setOpen} onFiles={(list) => takeIn(Promise.resolve(list))} />
          <main className="bench-main">
            {open.what === "kit" && <KitFields />}
            {(open.what === "sheet" || open.what === "deck" || open.what === "layout") && (
              <PartTitle what={open.what} name={open.name} onRemoved={() => setOpen({ what: "kit" })} />
            )}
            {open.what === "sheet" && <SheetEditor key={open.name} name={open.name} onDeck={(name) => setOpen({ what: "deck", name })} />}
            {open.what === "deck" && <DeckEditor key={open.name} name={open.name} onLayout={(name) => setOpen({ what: "layout", name })} />}
            {open.what === "layout" && <LayoutEditor key={open.name} name={open.name} />}
            {open.what === "pack" && <Packs loose={open.loose} onOpen={setOpen} />}
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

/** Loose pictures to be packed, those of one folder after those of another. */
function Packs({ loose: [first, ...others], onOpen }: { loose: Loose[]; onOpen: (open: Open) => void }) {
  if (!first) return null;
  const then = (last: Open) => onOpen(others.length > 0 ? { what: "pack", loose: others } : last);
  return (
    <PackPanel key={first.key} loose={first} onDone={(name) => then({ what: "sheet", name })} onCancel={() => then({ what: "kit" })} />
  );
}

/** Where the draft stands: kept, or in this browser alone. */
function standing(changed: boolean, of: { edition: number } | null): string {
  if (changed) return of ? `changed since edition ${of.edition}` : "in this browser alone";
  return of ? `edition ${of.edition}` : "";
}

/** Opens what the address names: a kit of the shelf, or the file that was brought. */
function useOpened(then: () => void) {
  const kit = useParams().kit;
  const location = useLocation();
  const navigate = useNavigate();
  useEffect(() => {
    const { file } = (location.state ?? {}) as { file?: File };
    const opened = async (): Promise<boolean> => {
      if (file) {
        await take([{ name: "brought.zip", bytes: new Uint8Array(await file.arrayBuffer()) }]);
        void navigate(location.pathname, { replace: true, state: null });
        return true;
      }
      const now = useDraft.getState();
      if (kit ? now.of?.kit === kit : now.of === null && Object.keys(now.files).length > 0) return false; // it lies here already
      const kept = await keptDraft(kit);
      if (kept) await goOnWith(kept);
      else if (kit) await openKit(kit);
      else useDraft.setState({ files: {}, manifest: {}, found: null, of: null, past: [], future: [], kept: null, changed: false });
      return true;
    };
    void inTurn(() => during("opening the kit", opened)).then((fresh) => {
      if (fresh) then();
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each address
  }, [kit, location.key]);
}

async function openKit(kit: string): Promise<void> {
  const path = { path: { kit } };
  void core().drop(""); // so that it starts while the files come
  const [page, zip] = await Promise.all([
    asMaker.GET("/api/kits/{kit}", { params: path }).then(given),
    asMaker.GET("/api/kits/{kit}/zip", { params: path, parseAs: "arrayBuffer" }).then(given) as unknown as Promise<ArrayBuffer>,
  ]);
  await openDraft(unzipped(new Uint8Array(zip)), { kit: page.id, name: page.name, edition: page.edition });
}

/** Undo and redo by their keys, where nothing is typed. */
function useHistoryKeys() {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || (e.target as Element).closest("input, textarea, select")) return;
      e.preventDefault();
      void (e.shiftKey ? redo() : undo());
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
}
