// A card that can be chosen and dragged.
import { useDrag } from "@use-gesture/react";
import { memo, useEffect } from "react";
import type { Card, Deck } from "../api/client";
import { CardFace, cardName } from "./CardFace";
import { chooseCard } from "./chosen";
import { dropOn } from "./drop";
import { beginDrag, endDrag, setDragging, springBack, under, useDragging } from "./dragging";
import { useTableNow, useTablePart, type TableParts } from "./TableContext";
import "./HeldCard.css";

interface Props {
  card: Card;
  /** The id of the place it lies in. */
  place: string;
  deck: Deck | undefined;
  /** Which of a row it is, from the left. */
  index?: number;
  /** What a click chooses instead of the card: of a pile, the pile. */
  onChoose?: () => void;
  label?: string;
}

/** What is the matter with one card, in one string, so that many cards are cheap to ask. */
function stateOf({ chosen, grips, unsettled }: TableParts, handle: string): string {
  let holder = "";
  for (const seat in grips) if (grips[seat]?.includes(handle)) holder = seat;
  return `${chosen.handles.includes(handle) ? "chosen" : ""} ${unsettled.includes(handle) ? "unsettled" : ""} ${holder}`;
}

export const HeldCard = memo(
  function HeldCard({ card, place, deck, index, onChoose, label }: Props) {
    const now = useTableNow();
    const [isChosen, unsettled, holding] = useTablePart((parts) => stateOf(parts, card.handle)).split(" ");
    const holder = holding ? now().view.seats.find((s) => s.number === Number(holding)) : undefined;
    const lifted = useDragging(({ dragging }) => dragging?.handles.includes(card.handle) ?? false);

    const bind = useDrag(
      ({ first, last, tap, canceled, xy: [x, y], initial: [startX, startY], event, cancel }) => {
        if (tap) return;
        const { view, chosen, act, canAct, millimetre, grip } = now();
        if (first) {
          const handles = isChosen ? chosen.handles : [card.handle];
          if (!canAct || !beginDrag({ handles, from: place, card, deck, x, y, startX, startY })) {
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
    useEffect(
      () => () => {
        const { dragging } = useDragging.getState();
        if (dragging?.state !== "moving" || dragging.card?.handle !== card.handle) return;
        setDragging(null);
        now().grip([]);
      },
      [card.handle, now],
    );

    const pick = (more: boolean) => (onChoose ? onChoose() : now().choose(chooseCard(now().chosen, card.handle, more)));
    return (
      <div
        {...bind()}
        className={`held-card ${isChosen} ${lifted ? "lifted" : ""} ${holder ? "gripped" : ""} ${unsettled}`}
        data-handle={card.handle}
        role="button"
        tabIndex={0}
        aria-pressed={!!isChosen}
        aria-label={label ?? cardName(card)}
        style={{ "--i": index, "--seat": holder?.colour, "--wide": deck?.wide ?? 63, "--high": deck?.high ?? 88 }}
        title={holder ? `${holder.name} is holding this` : undefined}
        onClick={(e) => {
          e.stopPropagation();
          pick(e.shiftKey || e.ctrlKey || e.metaKey);
        }}
        onContextMenu={(e) => {
          e.preventDefault();
          e.stopPropagation();
          if (onChoose ? now().chosen.place !== place : !isChosen) pick(false);
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
        {card.face.leaving && (
          <span className="leaving" title="The kit has this card no more. It leaves once everybody sees it.">
            gone
          </span>
        )}
      </div>
    );
  },
  (a, b) =>
    a.place === b.place &&
    a.deck === b.deck &&
    a.index === b.index &&
    a.onChoose === b.onChoose &&
    a.label === b.label &&
    alike(a.card, b.card),
);

/** Whether a card is drawn as another one: some changes bring all cards of a place anew. */
function alike(a: Card, b: Card): boolean {
  return (
    a === b ||
    (a.handle === b.handle &&
      a.side === b.side &&
      a.face.side === b.face.side &&
      a.turn === b.turn &&
      a.face.name === b.face.name &&
      a.face.leaving === b.face.leaving &&
      a.face.picture === b.face.picture)
  );
}
