import { describe, expect, it } from "vitest";
import { cellsOf, pasted } from "./pasting";

const clipboard = (plain: string, html = "") => ({ getData: (kind: string) => (kind === "text/html" ? html : plain) });

describe("cells on the clipboard", () => {
  it("are rows and columns, also those in quotes", () => {
    expect(cellsOf(clipboard("Fog\t2\r\nCalm\t\r\n"))).toEqual([
      ["Fog", "2"],
      ["Calm", ""],
    ]);
    expect(cellsOf(clipboard('"two\nlines ""x"""\t1\n"so" said\t2'))).toEqual([
      ['two\nlines "x"', "1"],
      ['"so" said', "2"],
    ]);
    expect(cellsOf(clipboard("Fog\nCalm", "<table><tr><td>Fog</td></tr><tr><td>Calm</td></tr></table>"))).toEqual([["Fog"], ["Calm"]]);
  });
  it("are none in a text of several lines", () => {
    expect(cellsOf(clipboard("a verse\nof two lines", "<p>a verse</p>"))).toBeUndefined();
    expect(cellsOf(clipboard("Fog"))).toBeUndefined();
  });
});

describe("what is pasted", () => {
  const header = ["name", "wind"];
  const cells = [
    ["Fog", "0"],
    ["Calm", "1"],
  ];
  it("lies over what there was, and adds rows", () => {
    expect(
      pasted(header, cells, 1, 0, [
        ["Gale", "8"],
        ["Ice", "2"],
      ]),
    ).toEqual({
      header,
      cells: [
        ["Fog", "0"],
        ["Gale", "8"],
        ["Ice", "2"],
      ],
    });
    expect(pasted(header, cells, 0, 1, [["5"]]).cells).toEqual([
      ["Fog", "5"],
      ["Calm", "1"],
    ]);
  });
  it("adds columns that are missing, and leaves out names that stand there already", () => {
    expect(
      pasted(header, cells, 2, 0, [
        ["Name", "Wind", ""],
        ["Ice", "2", "bog"],
      ]),
    ).toEqual({
      header: ["name", "wind", "column 3"],
      cells: [
        ["Fog", "0", ""],
        ["Calm", "1", ""],
        ["Ice", "2", "bog"],
      ],
    });
    expect(
      pasted(header, [], 0, 0, [
        ["Name", "Wind"],
        ["Ice", "2"],
      ]),
    ).toEqual({ header, cells: [["Ice", "2"]] });
  });
});
