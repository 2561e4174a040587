// Small pictures of cards on the bench: a part of a sheet, a file, or what a layout draws.
import { useEffect, useRef, useState } from "react";
import { addressOf, core, useDraft } from "./draft";
import { cellBox, fits } from "./grid";
import type { Face, Grid } from "./types";
import "./Thumb.css";

const side = 64;

export function FaceThumb({ face, sheet, outline }: { face?: Face; sheet?: string; outline?: string }) {
  if (!face) return null;
  if (face.each) return <CardThumb sheet={face.each} cell={1} outline={outline} />;
  return <CardThumb sheet={face.sheet ?? sheet} cell={face.cell} file={face.file} outline={outline} />;
}

export function CardThumb({ sheet, cell, file, outline }: { sheet?: string; cell?: number; file?: string; outline?: string }) {
  const { files, manifest } = useDraft();
  const entry = sheet ? manifest.sheets?.[sheet] : undefined;
  const address = addressOf(files[file ?? entry?.file ?? ""]);
  const [size, setSize] = useState<[number, number] | null>(null);
  const [guessed, setGuessed] = useState<Grid | null>(null);
  useEffect(() => {
    if (!address) return;
    const image = new Image();
    image.onload = () => setSize([image.naturalWidth, image.naturalHeight]);
    image.src = address;
    return () => {
      image.onload = null;
    };
  }, [address]);
  const unknown = entry && !entry.columns && !file ? entry.file : "";
  useEffect(() => {
    // a sheet without numbers is cut by the list beside it, or as it is guessed
    if (!unknown) return;
    let current = true;
    core()
      .lookOver(unknown, { columns: 0, rows: 0 })
      .then(
        (r) => {
          if (current) setGuessed(r.grid);
        },
        () => undefined,
      );
    return () => {
      current = false;
    };
  }, [unknown]);
  if (!address || !size) return <span className="thumb" style={{ width: side * 0.7, height: side }} />;
  if (file) return <img className={`thumb ${outline ?? "rounded"}`} src={address} alt="" style={{ maxHeight: side, maxWidth: side }} />;
  const grid: Grid | null = entry?.columns
    ? { columns: entry.columns, rows: entry.rows ?? 1, margin: entry.margin, gutter: entry.gutter }
    : guessed;
  if (!grid || !cell || !fits(grid, size) || cell > grid.columns * grid.rows)
    return <span className="thumb none" style={{ width: side * 0.7, height: side }} />;
  const [x, y, w, h] = cellBox(grid, size, cell);
  const scale = side / Math.max(w, h);
  return (
    <span
      className={`thumb ${outline ?? "rounded"}`}
      style={{
        width: w * scale,
        height: h * scale,
        backgroundImage: `url(${address})`,
        backgroundSize: `${size[0] * scale}px ${size[1] * scale}px`,
        backgroundPosition: `${-x * scale}px ${-y * scale}px`,
      }}
    />
  );
}

/** A card as its layout of a size draws it, drawn again when its row or layout changes. It
 * takes up its room before it is drawn. */
export function DrawnCard({
  deck,
  row,
  face,
  size,
  high,
  mark,
  onProblems,
}: {
  deck: string;
  row: number;
  face: "front" | "back";
  size: [number, number];
  high: number;
  mark: string;
  onProblems?: (problems: string[]) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [failed, setFailed] = useState("");
  useEffect(() => {
    let current = true;
    core()
      .draw(deck, row, face)
      .then(
        (d) => {
          const at = canvas.current;
          if (!current || !at) return;
          at.width = d.wide;
          at.height = d.high;
          at.getContext("2d")?.putImageData(new ImageData(new Uint8ClampedArray(d.rgba.buffer as ArrayBuffer), d.wide, d.high), 0, 0);
          setFailed("");
          onProblems?.(d.problems);
        },
        (problem: unknown) => {
          if (current) {
            setFailed(String(problem));
            onProblems?.([String(problem)]);
          }
        },
      );
    return () => {
      current = false;
    };
  }, [deck, row, face, mark, onProblems]);
  return (
    <canvas
      ref={canvas}
      className={`drawn-card ${failed ? "failed" : ""}`}
      style={{ height: high, width: (high * size[0]) / size[1] }}
      title={failed}
    />
  );
}
