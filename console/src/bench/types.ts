// What the core says to the bench, and the parts of kit.yaml that the bench edits.
// The service's own shapes come from its description; these are the core's.

export interface Grid {
  columns: number;
  rows: number;
  margin?: number;
  gutter?: number;
  count?: number;
}
export interface Guessed extends Grid {
  confidence: number;
}
export interface Cell {
  cell: number;
  column: number;
  row: number;
  empty: boolean;
  beyond?: boolean;
  warnings?: string[];
}
export interface Report {
  width: number;
  height: number;
  grid: Grid;
  cells: Cell[];
  guesses: Guessed[];
  warnings?: string[];
}

export interface Packing {
  columns?: number;
  rows?: number;
  lie?: string;
  fit?: boolean;
  longest?: number;
  veil?: string;
}
export interface Listed {
  cell: number;
  file: string;
  turned?: boolean;
}
export interface List {
  columns: number;
  rows: number;
  count: number;
  veil?: number;
  card: [number, number];
  scale: number;
  sources: Listed[];
}
export interface Packed {
  list: List;
  text: string;
  wide: number;
  high: number;
  drawn: number;
  png: Uint8Array;
}

export interface RowMistake {
  row: number;
  column?: string;
  text: string;
}
export interface RowsRead {
  header: string[];
  cells: string[][];
  mistakes: RowMistake[];
}

export interface Mistake {
  file: string;
  line?: number;
  column?: number;
  path?: string;
  text: string;
}
export interface Found {
  mistakes: Mistake[];
  warnings: string[];
  decks: FoundDeck[] | null;
}
export interface FoundDeck {
  key: string;
  designs: Record<string, { name: string }>;
  copies: { design: string; copies: number }[];
}

export interface Face {
  cell?: number;
  sheet?: string;
  file?: string;
  each?: string;
}
export interface DesignEntry {
  cell?: number;
  sheet?: string;
  file?: string;
  key?: string;
  name?: string;
  copies?: number;
  fields?: Record<string, unknown>;
}
export interface DeckEntry {
  sheet?: string;
  cells?: string;
  from?: { sheet: string; cells?: string }[];
  rows?: string;
  layout?: string;
  lie?: string;
  size?: [number, number];
  outline?: string;
  back?: Face;
  veil?: Face;
  home?: string;
  designs?: DesignEntry[];
}
export interface SheetEntry extends Partial<Grid> {
  file: string;
}
export interface Box {
  at: [number, number, number, number];
  fill?: string;
  round?: number;
  line?: number;
  colour?: string;
  picture?: string;
  fit?: string;
  text?: string;
  font?: string;
  bold?: boolean;
  italic?: boolean;
  height?: number;
  least?: number;
  align?: string;
  down?: string;
  lines?: number;
}
export interface LayoutEntry {
  size: [number, number];
  front: Box[];
  back?: Box[];
  icons?: Record<string, string>;
}
export interface Manifest {
  name?: string;
  about?: string;
  seats?: number;
  sheets?: Record<string, SheetEntry>;
  decks?: Record<string, DeckEntry>;
  layouts?: Record<string, LayoutEntry>;
  table?: { zones?: { key: string; kind: string; each?: string }[] };
}
