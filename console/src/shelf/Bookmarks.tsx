// Tables that were kept in use: rooms begin from them.
import Button from "react-bootstrap/Button";
import { asMaker, given } from "../maker/maker";
import { askFor } from "../parts/Asking";
import { More } from "./More";
import { plural } from "../parts/plural";
import { ago, useBookmarks, useDoing, type Bookmark } from "./shelf";

export function Bookmarks({ onOpen, onWrong }: { onOpen: (bookmark: Bookmark) => void; onWrong: (text: string) => void }) {
  const bookmarks = useBookmarks();
  const doing = useDoing(onWrong);
  if (!bookmarks.data?.length) return null;
  const rename = (b: Bookmark) =>
    askFor({ question: "What shall it be called?", yes: "Rename it", line: b.name, most: 80 }, (name) => {
      const params = { path: { bookmark: b.id } };
      void doing(async () => given(await asMaker.PATCH("/api/bookmarks/{bookmark}", { params, body: { name } })));
    });
  const remove = (b: Bookmark) =>
    askFor(
      {
        question: `Remove the bookmark ${b.name}?`,
        detail: "Rooms that began from it go on. It cannot be brought back; you can take it away as a file before.",
        yes: "Remove it",
      },
      () => void doing(async () => given(await asMaker.DELETE("/api/bookmarks/{bookmark}", { params: { path: { bookmark: b.id } } }))),
    );
  return (
    <section aria-labelledby="bookmarks" className="mt-4">
      <h2 id="bookmarks">Bookmarks</h2>
      <div className="room-list">
        {bookmarks.data.map((b) => (
          <article key={b.id} className="room-card" aria-label={`Bookmark ${b.name}`}>
            <h3>{b.name}</h3>
            <p className="quiet room-facts">
              {b.kit_name}, edition {b.edition} · {plural(b.seats, "seat")} · {ago(b.at)}
            </p>
            <div className="kit-acts">
              <Button size="sm" variant="outline-primary" onClick={() => onOpen(b)}>
                Open a room from it
              </Button>
              <More
                id={b.id}
                of={b.name}
                acts={[
                  ["Rename …", () => rename(b)],
                  ["Take away as one file", () => void doing(() => takeAwayBookmark(b))],
                  ["Remove …", () => remove(b)],
                ]}
              />
            </div>
          </article>
        ))}
      </div>
    </section>
  );
}

async function takeAwayBookmark(b: Bookmark): Promise<void> {
  const params = { path: { bookmark: b.id } };
  const file = given(await asMaker.GET("/api/bookmarks/{bookmark}/file", { params, parseAs: "blob" })) as unknown as Blob;
  saveBlob(`${b.name}, bookmark.zip`, file);
}

/** Has the browser keep a file. */
export function saveBlob(name: string, file: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
