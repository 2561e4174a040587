// Cells that are copied from a spreadsheet or a page, and pasted as rows.

/** The cells that a clipboard holds, row by row; nothing where it holds plain text. */
export function cellsOf(clipboard: Pick<DataTransfer, "getData">): string[][] | undefined {
  const text = clipboard.getData("text/plain");
  if (!text.includes("\t") && !/<t[dr][\s>]/i.test(clipboard.getData("text/html"))) return undefined;
  return parted(text.replace(/\r\n?/g, "\n").replace(/\n$/, ""));
}

/** Rows parted by line breaks, cells by tabs; a cell with either stands in quotes. */
function parted(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = "";
  const end = () => {
    rows.at(-1)?.push(cell);
    cell = "";
  };
  for (let i = 0; i < text.length; i++) {
    const quoted = cell === "" && text[i] === '"' ? quotedAt(text, i) : undefined;
    if (quoted) {
      cell = quoted.says;
      i = quoted.end - 1;
    } else if (text[i] === "\t") end();
    else if (text[i] === "\n") {
      end();
      rows.push([]);
    } else cell += text[i];
  }
  end();
  return rows;
}

/** A cell in quotes that begins at a place, and where it ends; nothing if what follows is no end of a cell. */
function quotedAt(text: string, from: number): { says: string; end: number } | undefined {
  let says = "";
  for (let i = from + 1; i < text.length; i++) {
    if (text[i] !== '"') says += text[i];
    else if (text[i + 1] === '"') {
      says += '"';
      i++;
    } else return i + 1 === text.length || text[i + 1] === "\t" || text[i + 1] === "\n" ? { says, end: i + 1 } : undefined;
  }
  return undefined;
}

/** A table with cells put over it from a row and a column on: with more rows and columns where it has too few, and without a
 * row that only says the names of the columns again. */
export function pasted(
  header: string[],
  cells: string[][],
  row: number,
  column: number,
  put: string[][],
): { header: string[]; cells: string[][] } {
  const same = (a: string | undefined, b: string | undefined) => (a ?? "").trim().toLowerCase() === (b ?? "").trim().toLowerCase();
  if (put.length > 1 && put[0]?.every((cell, i) => same(cell, header[column + i]))) put = put.slice(1);
  const wide = Math.max(header.length, ...put.map((r) => column + r.length));
  const names = [...header];
  while (names.length < wide) {
    let n = names.length + 1;
    while (names.some((name) => same(name, `column ${n}`))) n++;
    names.push(`column ${n}`);
  }
  const all = Array.from({ length: Math.max(cells.length, row + put.length) }, (_, r) =>
    names.map((_, c) => put[r - row]?.[c - column] ?? cells[r]?.[c] ?? ""),
  );
  return { header: names, cells: all };
}
