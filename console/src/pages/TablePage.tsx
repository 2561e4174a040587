// The table in play.
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Spinner from "react-bootstrap/Spinner";
import Toast from "react-bootstrap/Toast";
import ToastContainer from "react-bootstrap/ToastContainer";
import { useShallow } from "zustand/react/shallow";
import { isProblem, type Action, type LogLine, type View } from "../api/client";
import { startArranging, stopArranging, mayArrange, useArranging } from "../arrange/arranging";
import { shown, type Live } from "../room/source";
import type { TableSource } from "../room/source";
import { Asks } from "../table/Asks";
import { PeekTray } from "../table/PeekTray";
import { ActBar } from "../table/ActBar";
import { CardMenu } from "../table/CardMenu";
import type { MenuAt } from "../table/Menu";
import { Enlarged } from "../table/Enlarged";
import { most, useViewport, whole } from "../table/viewport";
import { actsFor } from "../table/acts";
import { myHand, nothing, stillThere } from "../table/chosen";
import { DragGhost } from "../table/DragGhost";
import { Hand } from "../table/Hand";
import { pressed } from "../table/keymap";
import { Keys } from "../table/Keys";
import { LogPanel } from "../table/LogPanel";
import { Mat } from "../table/Mat";
import { Seats } from "../table/Seats";
import { lastPlayed } from "../table/lastPlayed";
import { stopMeasuring, toggleMeasuring } from "../table/measuring";
import { leaveTable } from "../parts/ofTable";
import { TableProvider, type TableParts } from "../table/TableContext";
import { TableMenu } from "../table/TableMenu";
import "./bar.css";
import "./doorway.css";
import "./TablePage.css";

const Frames = lazy(() => import("../arrange/Frames").then((m) => ({ default: m.Frames })));
const Inspector = lazy(() => import("../arrange/Inspector").then((m) => ({ default: m.Inspector })));
const Palette = lazy(() => import("../arrange/Palette").then((m) => ({ default: m.Palette })));

/** What the page shows; pointers and notices change too often to draw it all for them. */
const seen = ({ view, guesses, connection, saving, ended, grips, log, here, watching }: Live) => ({
  view,
  guesses,
  connection,
  saving,
  ended,
  grips,
  log,
  here,
  watching,
});
type Seen = ReturnType<typeof seen>;

interface Props {
  connection: TableSource;
  onGone: () => void;
  /** What stands first in the bar, beside the table's name. */
  bar?: ReactNode;
}

export function TablePage({ connection, onGone, bar }: Props) {
  const live = connection.store(useShallow(seen));
  if (live.connection === "ended") {
    return (
      <main className="doorway">
        <section className="doorway-sheet">
          <h1>You are not at this table any more</h1>
          <p role="alert">{live.ended}</p>
          <Button onClick={onGone}>Back to the entrance</Button>
        </section>
      </main>
    );
  }
  if (!live.view) {
    return (
      <main className="doorway">
        <section className="doorway-sheet" role="status">
          <Spinner size="sm" aria-hidden="true" />{" "}
          {live.connection === "lost" ? "The service does not answer. Trying again …" : "Coming to the table …"}
        </section>
      </main>
    );
  }
  return <LaidTable connection={connection} live={live} view={live.view} bar={bar} />;
}

function LaidTable({ connection, live, view: settled, bar }: { connection: TableSource; live: Seen; view: View; bar: ReactNode }) {
  const { guesses } = live;
  const view = useMemo(() => shown({ view: settled, guesses }) ?? settled, [settled, guesses]);
  const [choice, choose] = useState(nothing);
  const [{ millimetre, drawn }, setScale] = useState({ millimetre: 1, drawn: 1 });
  const onScale = useCallback((millimetre: number, drawn: number) => setScale({ millimetre, drawn }), []);
  const [showKeys, setShowKeys] = useState(false);
  const [showLog, setShowLog] = useState(false); // where there is no room for it beside the table
  const [count, setCount] = useState(1);
  const [menuAt, setMenuAt] = useState<MenuAt | null>(null);
  const closeMenu = useCallback(() => setMenuAt(null), []);
  const frame = useRef<HTMLDivElement>(null);
  const arranging = useArranging((s) => s.on);
  const as = useArranging((s) => s.as);
  const toggle = arranging ? stopArranging : startArranging;
  const chosen = useMemo(() => stillThere(choice, view), [choice, view]);
  const canAct = live.connection === "live" && live.saving && view.you > 0 && !view.settings.ended;
  const act = useCallback(async (action: Action) => !isProblem(await connection.act({ action })), [connection]);
  const steps = useCallback(async (text: string) => !isProblem(await connection.act({ steps: text })), [connection]);
  const usePoints = useCallback(() => connection.store((s) => s.points), [connection]);
  const hand = myHand(view);
  useEffect(() => leaveTable, []); // the next table begins with its own

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLInputElement ||
        event.target instanceof HTMLTextAreaElement ||
        event.target instanceof HTMLSelectElement;
      if (typing || event.ctrlKey || event.metaKey || event.altKey || document.querySelector(".modal.show, [role=menu]")) return;
      const zoomed = (by: number) => useViewport.setState((v) => ({ ...v, zoom: Math.min(most, Math.max(1, v.zoom * by)) }));
      const meant = pressed(event.key);
      switch (meant) {
        case "nothing":
          choose(nothing);
          setMenuAt(null);
          stopMeasuring();
          break;
        case "nearer":
          zoomed(1.4);
          break;
        case "farther":
          zoomed(1 / 1.4);
          break;
        case "whole":
          useViewport.setState(whole);
          break;
        case "help":
          setShowKeys(true);
          break;
        case "measure":
          toggleMeasuring();
          break;
        case "undo":
          if (canAct) void act({ do: "undo" });
          break;
        case "arrange":
          if (canAct && mayArrange(view)) toggle();
          break;
      }
      if (arranging) return;
      if (meant === "count") setCount(Number(event.key));
      if (meant === "menu") setMenuAt(besideFocus());
      const wanted = canAct && actsFor(view, chosen, count).find((a) => a.key !== "" && a.key === event.key.toLowerCase());
      if (!wanted) return;
      event.preventDefault();
      void act(wanted.action);
      setCount(1); // a number typed is for one act
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [view, chosen, act, canAct, count, arranging, toggle]);

  const parts = useMemo<TableParts>(
    () => ({
      view,
      chosen,
      choose,
      act,
      canAct,
      millimetre,
      grips: live.grips,
      usePoints,
      menu: setMenuAt,
      seat: connection.joined,
      source: connection,
      now: () => shown(connection.store.getState()) ?? view,
      unsettled: guesses.flatMap((g) => g.guess.cards),
      last: lastPlayed(live.log),
      grip: (cards) => connection.grip(cards),
      point: (at) => connection.point(at),
      middle: () => middleOf(frame.current, millimetre),
    }),
    [view, chosen, act, canAct, millimetre, connection, live.grips, live.log, guesses, usePoints],
  );
  const veiled = arranging && as >= 0 && as !== view.you;
  return (
    <TableProvider parts={parts}>
      <main className={`table-page ${arranging ? "arranging" : ""} ${showLog ? "with-log" : ""}`} style={{ "--mm": `${drawn}px` }}>
        <header className="table-bar">
          <h1>{view.settings.name}</h1>
          {bar}
          <Seats here={live.here} onAsk={(seat) => void steps(`ask seat ${seat.number} for 1`)} />
          {live.watching > 0 && <span className="quiet text-nowrap">{live.watching} watching</span>}
          <Button size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act({ do: "pass" })}>
            Pass the turn
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAct}
            title={lastOf(live.log, view.you)}
            onClick={() => void act({ do: "undo" })}
          >
            Undo
          </Button>
          <TableMenu arranging={mayArrange(view) ? { on: arranging, toggle } : null} />
          <Button size="sm" variant="outline-secondary" className="log-button" aria-pressed={showLog} onClick={() => setShowLog(!showLog)}>
            Log
          </Button>
          <Button size="sm" variant="outline-secondary" onClick={() => setShowKeys(true)} aria-label="Keys">
            ?
          </Button>
        </header>
        <ConnectionState live={live} ended={!!view.settings.ended} />
        <Mat
          onScale={onScale}
          frame={frame}
          over={
            arranging && (
              <Suspense>
                <Frames />
              </Suspense>
            )
          }
        />
        {arranging ? (
          <Suspense>
            <Inspector />
          </Suspense>
        ) : (
          <LogPanel lines={live.log} view={view} canAct={canAct} onSteps={steps} />
        )}
        <footer className="my-side">
          <div className="over-hand">
            <Asks />
            <PeekTray />
          </div>
          {veiled && hand && (
            <p className="quiet hand-empty">
              {hand.count === 1 ? "1 card lies" : `${hand.count} cards lie`} here: others see how many, and no more.
            </p>
          )}
          {!veiled && hand && <Hand place={hand} />}
          {!hand && (
            <p className="quiet hand-empty">
              {view.you > 0 ? "Your seat has no hand at this table." : "You are watching. Open the link in another window to take a seat."}
            </p>
          )}
          {arranging ? (
            <Suspense>
              <Palette />
            </Suspense>
          ) : (
            <ActBar count={count} onCount={setCount} />
          )}
        </footer>
        <Notices connection={connection} />
      </main>
      <CardMenu at={menuAt} count={count} onClose={closeMenu} />
      <Enlarged />
      <DragGhost millimetre={millimetre} />
      <Keys show={showKeys} onHide={() => setShowKeys(false)} />
    </TableProvider>
  );
}

/** The middle of what is seen of the table, in millimetres of it. */
function middleOf(frame: HTMLElement | null, millimetre: number): { x: number; y: number } {
  const mat = frame?.querySelector("[data-mat]")?.getBoundingClientRect();
  const seen = frame?.getBoundingClientRect();
  if (!mat || !seen) return { x: 0, y: 0 };
  return { x: (seen.left + seen.width / 2 - mat.left) / millimetre, y: (seen.top + seen.height / 2 - mat.top) / millimetre };
}

/** What is told of people, and is not undone. */
const people = ["sit", "free", "hand-on", "rename", "change-seat", "search", "try"];

/** What undo would take back, as far as the log tells. */
function lastOf(log: LogLine[], you: number): string {
  const last = log.findLast((line) => line.seat === you && line.do !== "undo" && !people.includes(line.do));
  return last ? `takes back: ${last.text}` : "takes back your last action";
}

/** Where a menu opened by a key stands: beside what is in focus. */
function besideFocus(): MenuAt {
  const box = document.activeElement?.getBoundingClientRect();
  return box && box.width > 0 && box.width < innerWidth / 2 ? { x: box.right, y: box.top } : { x: innerWidth / 2, y: innerHeight / 2 };
}

function ConnectionState({ live, ended }: { live: Seen; ended: boolean }) {
  let text = ended ? "The game has ended. The table stays to be looked at." : "";
  if (live.connection === "lost") text = "The connection is lost. Trying again; the table shows what was last known.";
  else if (live.connection === "connecting") text = "Coming to the table …";
  else if (!live.saving) text = "The service cannot save right now and keeps trying. Wait a moment.";
  return (
    <div className={`connection ${text ? "shown" : ""}`} role="status">
      {text}
    </div>
  );
}

function Notices({ connection }: { connection: TableSource }) {
  const notices = connection.store((s) => s.notices);
  return (
    <ToastContainer className="notices" role="status" aria-live="polite">
      {notices.map((notice) => (
        <Toast
          key={notice.id}
          role="none"
          className={`notice-note ${notice.kind}`}
          animation={false}
          onClose={() => connection.dismiss(notice.id)}
        >
          <button type="button" onClick={() => connection.dismiss(notice.id)}>
            {notice.text}
          </button>
        </Toast>
      ))}
    </ToastContainer>
  );
}
