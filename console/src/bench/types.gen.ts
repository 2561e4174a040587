// Written by make describe from the core's own types; do not edit.

export interface Grid {
  columns: number;
  rows: number;
  margin?: number | number[];
  gutter?: number | number[];
  count?: number;
}

export interface Guessed {
  columns: number;
  rows: number;
  margin?: number | number[];
  gutter?: number | number[];
  count?: number;
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
  sure: boolean;
  askew?: number;
  cells: Cell[];
  guesses: Guessed[];
  warnings?: string[];
  notes?: string[];
}

export interface Packing {
  folder?: string;
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
  sha256: string;
  size: [number, number];
  turned?: boolean;
}

export interface List {
  columns: number;
  rows: number;
  count: number;
  card: [number, number];
  scale: number;
  sha256?: string;
  more?: string[];
  packing?: Packing;
  sources: Listed[];
}

export interface PackedSheet {
  list: List;
  wide: number;
  high: number;
  drawn: number;
}

export interface RowMistake {
  row: number;
  column?: string;
  text: string;
}

export interface RowsRead {
  header: string[];
  cells: string[][];
  numbers: number[];
  mistakes: RowMistake[];
  notes: string[];
  tabs: string[];
  copies: number;
}

export interface Drawn {
  wide: number;
  high: number;
  problems: string[];
}

export interface Mistake {
  file: string;
  line?: number;
  column?: number;
  path?: string;
  text: string;
}

export interface Copies {
  design: string;
  copies: number;
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

export interface FoundDeck {
  key: string;
  copies: Copies[];
  spelt_out: DesignEntry[];
}

export interface Found {
  mistakes: Mistake[];
  warnings: string[];
  decks: FoundDeck[];
}

export interface Face {
  cell?: number;
  sheet?: string;
  file?: string;
  each?: string;
}

export interface Part {
  sheet: string;
  cells: string;
}

export interface DeckEntry {
  sheet?: string;
  cells?: string;
  from?: Part[];
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

export interface SheetEntry {
  file: string;
  columns?: number;
  rows?: number;
  margin?: number | number[];
  gutter?: number | number[];
  count?: number;
}

export interface Edge {
  colour: string;
  wide: number;
}

export interface Box {
  name?: string;
  at: [number, number, number, number];
  if?: string;
  turn?: number;
  fill?: string;
  round?: number;
  line?: number;
  colour?: string;
  opacity?: number;
  picture?: string;
  fit?: string;
  optional?: boolean;
  qr?: string;
  text?: string;
  font?: string;
  bold?: boolean;
  italic?: boolean;
  height?: number;
  least?: number;
  align?: string;
  down?: string;
  lines?: number;
  outline?: Edge;
  shadow?: Edge;
}

export interface LayoutEntry {
  based_on?: string;
  size: [number, number];
  front: Box[];
  back?: Box[];
  icons?: Record<string, string>;
  fonts?: string[];
}

export interface ZoneEntry {
  key: string;
  name?: string;
  kind: string;
  grid?: ZoneGrid;
  each?: string;
  seat?: number;
  sight?: string;
  arrival?: string;
  turn?: number;
  locked?: boolean;
  under?: boolean;
  capacity?: number;
  at?: number[];
  "at-seats"?: number[][];
  turned?: number;
  size?: number[];
}

export interface ZoneGrid {
  shape: string;
  columns: number;
  rows: number;
}

export interface PieceEntry {
  key: string;
  name?: string;
  kind: string;
  at: number[];
  size?: number[];
  turned?: number;
  locked?: boolean;
  value?: number;
  step?: number;
  least?: number;
  most?: number;
  faces?: string[];
  files?: string[];
  count?: number;
  seconds?: number;
  text?: string;
  steps?: string;
}

export interface TableEntry {
  size?: number[];
  mat?: string;
  turn?: number;
  arrange?: string;
  setup?: string;
  zones?: ZoneEntry[];
  pieces?: PieceEntry[];
}

export interface BegunSheet {
  key: string;
  entry: BegunSheetEntry;
  like: Grid;
}

export interface BegunSheetEntry {
  file: string;
  columns?: number;
  rows?: number;
  margin?: unknown;
  gutter?: unknown;
}

export interface BegunDeck {
  key: string;
  entry: BegunDeckEntry;
}

export interface BegunDeckEntry {
  sheet?: string;
  rows?: string;
  layout?: string;
}

export interface BegunLayout {
  key: string;
  entry: LayoutEntry;
}

export interface Loose {
  key: string;
  folder: string;
  files: string[];
  sheet: string;
}

export interface Begun {
  title: string;
  sheets: BegunSheet[];
  decks: BegunDeck[];
  layouts: BegunLayout[];
  loose: Loose[];
  notes: string[];
  left: string[];
}

export interface Noted {
  key: string;
  file: string;
  list_file: string;
  list: string;
}

export interface Manifest {
  kit?: number;
  name?: string;
  about?: string;
  seats?: number;
  picture?: string;
  description?: string;
  rules?: string;
  sheets?: Record<string, SheetEntry>;
  layouts?: Record<string, LayoutEntry>;
  decks?: Record<string, DeckEntry>;
  table?: TableEntry;
}
