// A card that can be chosen and dragged.
import { useDrag } from "@use-gesture/react";
import { memo, useEffect } from "react";
import type { Card, Place } from "../api/client";
import { CardFace, cardName } from "./CardFace";
import { chooseCard } from "./chosen";
import { dropOn } from "./drop";
import { beginDrag, endDrag, setDragging, springBack, under, useDragging } from "./dragging";
import { useTableNow, useTablePart } from "./TableContext";

interface Props {
  card: Card;
  place: Place;
  /** Millimetres from the middle of its place, along a row. */
  along?: number;
  /** What a click chooses instead of the card: of a pile, the pile. */
  onChoose?: () => void;
  label?: string;
}

export const HeldCard = memo(function HeldCard({ card, place, along, onChoose, label }: Props) {
  const now = useTableNow();
  const holder = useTablePart(({ view, grips }) => view.seats.find((s) => grips[s.number]?.includes(card.handle)));
  const isChosen = useTablePart(({ chosen }) => chosen.handles.includes(card.handle));
  const deck = useTablePart(({ view }) => view.decks.find((d) => d.key === card.deck));
  const unsettled = useTablePart((t) => t.unsettled.includes(card.handle));
  const lifted = useDragging(({ dragging }) => dragging?.handles.includes(card.handle) ?? false);

  const bind = useDrag(
    ({ first, last, tap, canceled, xy: [x, y], initial: [startX, startY], event, cancel }) => {
      if (tap) return;
      const { view, chosen, act, canAct, millimetre, grip } = now();
      if (first) {
        const handles = isChosen ? chosen.handles : [card.handle];
        if (!canAct || !beginDrag({ handles, from: place.id, card, deck, x, y, startX, startY })) {
          cancel();
          return;
        }
        grip(handles);
      }
      const dragging = useDragging.getState().dragging;
      if (dragging?.state !== "moving") return;
      const target = under(x, y, dragging.handles, millimetre);
      const swap = event instanceof PointerEvent && event.shiftKey;
      const drop = canceled ? null : dropOn(view, dragging, target, swap);
      setDragging({ x, y, drop, over: drop && target && "place" in target ? target.place : null });
      if (!last) return;
      event.preventDefault();
      if (!drop) {
        grip([]);
        springBack();
        return;
      }
      setDragging({ state: "waiting", over: null });
      void act(drop.action).then((done) => {
        if (endDrag(dragging.id, done)) grip([]);
      });
    },
    { filterTaps: true, pointer: { keys: false } },
  );

  // A card that goes out of sight under one's hand is let go of.
  useEffect(() => () => {
    const { dragging } = useDragging.getState();
    if (dragging?.state !== "moving" || dragging.card?.handle !== card.handle) return;
    setDragging(null);
    now().grip([]);
  }, [card.handle, now]);

  const pick = (more: boolean) => (onChoose ? onChoose() : now().choose(chooseCard(now().chosen, card.handle, more)));
  return (
    <div
      {...bind()}
      className={`held-card ${isChosen ? "chosen" : ""} ${lifted ? "lifted" : ""} ${holder ? "gripped" : ""} ${unsettled ? "unsettled" : ""}`}
      data-handle={card.handle}
      role="button"
      tabIndex={0}
      aria-pressed={isChosen}
      aria-label={label ?? cardName(card)}
      style={{ "--along": along, "--seat": holder?.colour }}
      title={holder ? `${holder.name} is holding this` : undefined}
      onClick={(e) => {
        e.stopPropagation();
        pick(e.shiftKey || e.ctrlKey || e.metaKey);
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        e.stopPropagation();
        if (onChoose ? now().chosen.place !== place.id : !isChosen) pick(false);
        now().menu({ x: e.clientX, y: e.clientY });
      }}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        e.stopPropagation();
        pick(e.shiftKey);
      }}
    >
      <CardFace card={card} deck={deck} />
      {holder && <span className="grip-name">{holder.name}</span>}
    </div>
  );
});
