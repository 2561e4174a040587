// What a kit looks like on a shelf: its picture, or a fan of its cards.
import { atService } from "../api/pictures";
import type { Kit } from "./shelf";
import "./Cover.css";

export function Cover({ kit }: { kit: Kit }) {
  if (kit.picture) return <img className="cover cover-picture" src={atService(kit.picture, "full")} alt="" loading="lazy" />;
  const fan = kit.fan ?? [];
  return (
    <div className="cover cover-fan" aria-hidden="true">
      {fan.map((card, i) => (
        <img key={card + String(i)} src={atService(card, "small")} alt="" loading="lazy" style={{ "--lean": i - (fan.length - 1) / 2 }} />
      ))}
    </div>
  );
}
