// The outline of a picture with transparent parts, as a polygon for CSS: what is
// clipped away cannot be taken hold of.
import { useEffect, useState } from "react";

/** Rows of a picture that are looked at for its outline. */
const rows = 24;
/** From which opacity on a dot belongs to the picture, of 255. */
const opaque = 40;

/** The polygon round what is opaque; undefined where nothing is to be clipped. */
export function outlineOf(alpha: (x: number, y: number) => number, wide: number, high: number): string | undefined {
  const left: string[] = [];
  const right: string[] = [];
  let clipped = false;
  for (let i = 0; i <= rows; i++) {
    const y = Math.min(high - 1, Math.round((i / rows) * (high - 1)));
    let [from, to] = [0, wide - 1];
    while (from <= to && alpha(from, y) < opaque) from++;
    while (to > from && alpha(to, y) < opaque) to--;
    if (from > to) continue;
    clipped ||= from > 1 || to < wide - 2;
    const percent = (n: number, of: number) => `${Math.round((n / of) * 1000) / 10}%`;
    left.push(`${percent(from, wide)} ${percent(y, high - 1)}`);
    right.push(`${percent(to + 1, wide)} ${percent(y, high - 1)}`);
  }
  if (!clipped || left.length < 2) return undefined;
  return `polygon(${[...left, ...right.reverse()].join(", ")})`;
}

const known = new Map<string, string | undefined>();

/** The outline of a picture by its address, once it is loaded. */
export function useOutline(src: string): string | undefined {
  const [outline, setOutline] = useState(() => known.get(src));
  useEffect(() => {
    if (!src) return;
    let wanted = true;
    void (known.has(src) ? Promise.resolve(known.get(src)) : trace(src)).then((found) => {
      known.set(src, found);
      if (wanted) setOutline(found);
    });
    return () => {
      wanted = false;
    };
  }, [src]);
  return outline;
}

async function trace(src: string): Promise<string | undefined> {
  const picture = new Image();
  picture.src = src;
  try {
    await picture.decode();
  } catch {
    return undefined; // it is shown in its box
  }
  const canvas = document.createElement("canvas");
  canvas.width = picture.naturalWidth;
  canvas.height = picture.naturalHeight;
  const context = canvas.getContext("2d", { willReadFrequently: true });
  if (!context) return undefined;
  context.drawImage(picture, 0, 0);
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
  return outlineOf((x, y) => data[(y * canvas.width + x) * 4 + 3] ?? 0, canvas.width, canvas.height);
}
