// A client of Damselfly for pages and programs in JavaScript.
//
//   import { join, Table } from "damselfly-client";
//   const joined = await join("https://table.example", ROOM, { name: "Ada" });
//   const table = await new Table("https://table.example", joined).start();
//   table.listen(() => draw(table.state.view));
//   await table.do("draw 2 from weather");
export * from "./fold.js";
export * from "./shapes.js";
export * from "./socket.js";
export * from "./table.js";
