// Frames over everything that can be arranged: choose, move, size and turn by hand
// or by key.
import { useDrag } from "@use-gesture/react";
import { useState } from "react";
import type { Place, View } from "../api/client";
import { useTable } from "../table/TableContext";
import { change, lattice, mean, nameOfThing, sees, snap, tenth, things, together, useArranging, whoSees, type Thing } from "./arranging";
import "./Frames.css";

export function Frames() {
  const { view } = useTable();
  const guides = useArranging((s) => s.guides);
  return (
    <div className="frames">
      {things(view).map((thing) => (
        <Frame key={nameOfThing(thing)} thing={thing} />
      ))}
      {guides.x !== null && <span className="guide down" style={{ "--x": guides.x }} />}
      {guides.y !== null && <span className="guide across" style={{ "--y": guides.y }} />}
    </div>
  );
}

/** What a drag would make of a thing. */
interface Dragged {
  x: number;
  y: number;
  wide: number;
  high: number;
  turn: number;
}

function Frame({ thing }: { thing: Thing }) {
  const { view, act, canAct, millimetre } = useTable();
  const { meant, as } = useArranging();
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const own = nameOfThing(thing);
  const isMeant = meant.includes(own);
  const place = thing.kind === "zone" ? view.places.find((p) => p.id === thing.id) : undefined;
  const short = place ? shortSight(view, place, as) : "";
  const settle = () => {
    setDragged(null);
    useArranging.setState({ guides: { x: null, y: null } });
  };
  const common = { filterTaps: true, pointer: { keys: false }, enabled: canAct };

  const move = useDrag(({ first, last, tap, canceled, movement: [dx, dy], event, cancel }) => {
    if (tap) return;
    if (thing.locked) {
      cancel();
      return;
    }
    if (first && !isMeant) mean(own);
    const free = event instanceof PointerEvent && event.altKey;
    const raw = { x: thing.x + dx / millimetre, y: thing.y + dy / millimetre };
    const others = things(view).filter((t) => t.id !== thing.id && !meant.includes(nameOfThing(t)));
    const at = free ? { ...raw, guides: { x: null, y: null } } : snap(thing, raw, others);
    setDragged({ ...thing, x: at.x, y: at.y });
    useArranging.setState({ guides: at.guides });
    if (!last) return;
    if (canceled) settle();
    else void act(moveAll(view, isMeant ? meant : [own], tenth(at.x - thing.x), tenth(at.y - thing.y))).then(settle);
  }, common);

  const size = useDrag(({ last, tap, canceled, movement: [dx, dy], event }) => {
    event.stopPropagation();
    if (tap) return;
    const [sin, cos] = [Math.sin((-thing.turn * Math.PI) / 180), Math.cos((-thing.turn * Math.PI) / 180)];
    const grown = (n: number, by: number) => Math.max(10, Math.round((n + (2 * by) / millimetre) / lattice) * lattice);
    const to = { wide: grown(thing.wide, dx * cos - dy * sin), high: grown(thing.high, dx * sin + dy * cos) };
    setDragged({ ...thing, ...to });
    if (!last) return;
    if (canceled) settle();
    else void act(change(thing, thing.kind === "zone" || isMat(view, thing) ? to : { wide: to.wide })).then(settle);
  }, common);

  const turn = useDrag(({ last, tap, canceled, xy: [x, y], event }) => {
    event.stopPropagation();
    if (tap) return;
    const box = (event.currentTarget as HTMLElement | null)?.closest(".frame")?.getBoundingClientRect();
    if (!box) return;
    const degrees = (Math.atan2(y - box.top - box.height / 2, x - box.left - box.width / 2) * 180) / Math.PI + 90;
    const to = (((Math.round(degrees / 15) * 15) % 360) + 360) % 360;
    setDragged({ ...thing, turn: to });
    if (!last) return;
    if (canceled) settle();
    else void act(change(thing, { turn: to })).then(settle);
  }, common);

  const shown = dragged ?? thing;
  const choose = (more: boolean) => {
    if (!more) mean(...(isMeant && meant.length === 1 ? [] : [own]));
    else mean(...(isMeant ? meant.filter((m) => m !== own) : [...meant, own]));
  };
  return (
    <div
      {...move()}
      className={`frame of-${thing.kind} ${isMeant ? "meant" : ""} ${thing.locked ? "locked" : ""} ${sightClass(place, as)}`}
      role="button"
      tabIndex={0}
      aria-pressed={isMeant}
      aria-label={`${thing.name}${short && ` ${short}`}, ${kindOf(view, thing)}${thing.locked ? ", locked" : ""}${place ? `, ${sightText(view, place, as)}` : ""}`}
      style={{ "--x": shown.x, "--y": shown.y, "--wide": shown.wide, "--high": shown.high, rotate: `${shown.turn}deg` }}
      onClick={(e) => {
        e.stopPropagation();
        choose(e.shiftKey || e.ctrlKey || e.metaKey);
      }}
      onKeyDown={(e) => {
        const action = keyed(view, thing, isMeant ? meant : [own], e.key, e.shiftKey ? 1 : lattice);
        if (e.key === "Enter" || e.key === " ") choose(e.shiftKey);
        else if (action) void act(action);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <span className="frame-name">
        {thing.name}
        {short && <em> {short}</em>}
      </span>
      {isMeant && !thing.locked && (
        <>
          <span {...alone(size())} className="frame-size" title="Drag to size" />
          <span {...alone(turn())} className="frame-turn" title="Drag to turn" />
        </>
      )}
    </div>
  );
}

/** Handlers of a handle whose drag is no drag of the frame it is on. */
function alone(handlers: ReturnType<ReturnType<typeof useDrag>>) {
  const { onPointerDown } = handlers;
  return {
    ...handlers,
    onPointerDown: (e: React.PointerEvent) => {
      onPointerDown?.(e);
      e.stopPropagation();
    },
  };
}

const isMat = (view: View, thing: Thing) => view.pieces.some((p) => p.id === thing.id && p.kind === "mat");

function kindOf(view: View, thing: Thing): string {
  if (thing.kind === "piece") return view.pieces.find((p) => p.id === thing.id)?.kind ?? "piece";
  return view.places.find((p) => p.id === thing.id)?.kind ?? "zone";
}

function sightText(view: View, place: Place, as: number): string {
  return as < 0 ? whoSees(view, place) : `sees ${sees(place, as)}`;
}

/** The same at a glance: what is as everyone expects needs no word. */
function shortSight(view: View, place: Place, as: number): string {
  if (as >= 0) return place.sight === "open" ? "" : sees(place, as);
  if (place.sight === "open") return "";
  return place.sight === "none"
    ? "nobody"
    : `${view.seats.find((s) => s.number === place.owner)?.name || `seat ${place.owner ?? "?"}`} alone`;
}

function sightClass(place: Place | undefined, as: number): string {
  if (!place) return "";
  if (as < 0) return `sight-${place.sight}`;
  return { fronts: "sight-owner", "as they lie": "sight-open", "how many": "sight-none" }[sees(place, as)];
}

/** Moves all that is meant by as much; what is locked stays. */
function moveAll(view: View, meant: string[], dx: number, dy: number) {
  return together(
    things(view)
      .filter((t) => meant.includes(nameOfThing(t)) && !t.locked)
      .map((t) => change(t, { x: tenth(t.x + dx), y: tenth(t.y + dy) })),
  );
}

/** What a key does with the things that are meant. */
function keyed(view: View, thing: Thing, meant: string[], key: string, step: number) {
  const by: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
  const way = by[key];
  const all = things(view).filter((t) => meant.includes(nameOfThing(t)));
  if (way) return thing.locked ? null : moveAll(view, meant, ...way);
  if (key === "Delete" || key === "Backspace") return together(all.map((t) => takeOff(t)));
  if (key === "r") return together(all.map((t) => change(t, { turn: (t.turn + 15) % 360 })));
  if (key === "c") return together(all.map((t) => copy(t)));
  if (key === "f") return together(all.map((t) => change(t, { locked: !thing.locked })));
  return null;
}

export const takeOff = (thing: Thing) =>
  thing.kind === "zone"
    ? { do: "take-off" as const, zone: thing.id, cards: "felt" as const }
    : { do: "take-off" as const, piece: thing.id };
export const copy = (thing: Thing) =>
  thing.kind === "zone" ? { do: "lay-zone" as const, like: thing.id } : { do: "lay-piece" as const, like: thing.id };
