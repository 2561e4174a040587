// A card enlarged to be read, upright, while a key or a long press is held. It does
// not move, and shows no more than its place does.
import { useEffect, useState } from "react";
import type { Card } from "../api/client";
import { usePicture } from "../api/pictures";
import { cardName } from "./CardFace";
import { find } from "./chosen";
import { pressed } from "./keymap";
import { useTable } from "./TableContext";
import "./Enlarged.css";

/** How long a finger rests on a card before it is enlarged, in milliseconds. */
const longPress = 450;

export function Enlarged() {
  const { view } = useTable();
  const [card, setCard] = useState<Card | null>(null);
  useEffect(() => {
    let at: Element | null = null;
    let press: ReturnType<typeof setTimeout> | undefined;
    const show = (element: Element | null) => {
      const handle = element?.closest<HTMLElement>("[data-handle]")?.dataset.handle;
      setCard((handle && find(view, handle)?.card) || null);
    };
    const over = (e: PointerEvent) => {
      at = e.target as Element;
    };
    const typing = (e: KeyboardEvent) => e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
    const down = (e: KeyboardEvent) => {
      if (pressed(e.key.toLowerCase()) !== "enlarge" || typing(e) || e.ctrlKey || e.metaKey || e.repeat) return;
      show(
        document.activeElement?.closest("[data-handle]") && document.activeElement.matches(":focus-visible") ? document.activeElement : at,
      );
    };
    const up = (e: KeyboardEvent) => {
      if (pressed(e.key.toLowerCase()) === "enlarge") setCard(null);
    };
    const touch = (e: PointerEvent) => {
      if (e.pointerType !== "touch") return;
      press = setTimeout(() => show(e.target as Element), longPress);
    };
    const end = () => {
      clearTimeout(press);
      setCard(null);
    };
    const moved = (e: PointerEvent) => {
      if (e.pointerType === "touch" && Math.hypot(e.movementX, e.movementY) > 2) clearTimeout(press);
    };
    const gone = () => setCard(null);
    addEventListener("pointerover", over);
    addEventListener("keydown", down);
    addEventListener("keyup", up);
    addEventListener("pointerdown", touch);
    addEventListener("pointermove", moved);
    addEventListener("pointerup", end);
    addEventListener("pointercancel", end);
    addEventListener("blur", gone);
    return () => {
      removeEventListener("pointerover", over);
      removeEventListener("keydown", down);
      removeEventListener("keyup", up);
      removeEventListener("pointerdown", touch);
      removeEventListener("pointermove", moved);
      removeEventListener("pointerup", end);
      removeEventListener("pointercancel", end);
      removeEventListener("blur", gone);
    };
  }, [view]);
  const src = usePicture(card?.face.picture, "full");
  if (!card) return null;
  const deck = view.decks.find((d) => d.key === card.face.deck);
  return (
    <div className="enlarged" role="dialog" aria-label={cardName(card)}>
      <img
        className={`card-face ${deck?.outline ?? "rounded"}`}
        src={src}
        alt={cardName(card)}
        style={{ "--shape": (deck?.wide ?? 63) / (deck?.high ?? 88) }}
      />
    </div>
  );
}
