// A maker's shelf: kits and rooms, and what one can do first where there are none.
import { unzipSync } from "fflate";
import { useRef, useState } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { asMaker, given } from "../maker/maker";
import { MakerMenu, useMakerName } from "../maker/MakerMenu";
import { Bookmarks } from "../shelf/Bookmarks";
import { KitCard } from "../shelf/KitCard";
import { LongList } from "../shelf/LongList";
import { OpenRoom } from "../shelf/OpenRoom";
import { RoomCard } from "../shelf/RoomCard";
import { ago, useBookmarks, useDoing, useKits, useListedKits, useRooms, useShelfChanged, type Bookmark, type Kit } from "../shelf/shelf";
import "./bar.css";
import "./ShelfPage.css";

export function ShelfPage() {
  const name = useMakerName();
  const kits = useKits();
  const rooms = useRooms();
  const listed = useListedKits();
  const bookmarks = useBookmarks();
  const [problem, setProblem] = useState("");
  const [opening, setOpening] = useState<Kit | Bookmark | null>(null);
  const others = listed.data?.filter((k) => !k.mine) ?? [];
  const wrong = problem || kits.error?.message || rooms.error?.message;
  return (
    <div className="shelf">
      <header className="table-bar">
        <h1>{name ? `${name}'s shelf` : "Shelf"}</h1>
        <span className="ms-auto" />
        <BringKit onWrong={setProblem} />
        <Link className="btn btn-sm btn-primary" to="/bench">
          Make a kit
        </Link>
        <MakerMenu />
      </header>
      <main className="shelf-body">
        {wrong && (
          <Alert variant="warning" role="alert" dismissible={!!problem} onClose={() => setProblem("")}>
            {wrong}
          </Alert>
        )}
        {kits.data?.length === 0 && <First others={others.length > 0} />}
        <div className="shelf-halves">
          <section aria-labelledby="kits">
            {(kits.data?.length ?? 0) > 0 && <h2 id="kits">Kits</h2>}
            <LongList
              of={kits.data ?? []}
              what="kit"
              className="kit-grid"
              each={(k) => <KitCard key={k.id} kit={k} onOpen={() => setOpening(k)} onWrong={setProblem} />}
            />
            {others.length > 0 && (
              <>
                <h2 className="mt-4">Of others</h2>
                <LongList of={others} what="kit" className="kit-grid" each={(k) => <KitCard key={k.id} kit={k} onWrong={setProblem} />} />
              </>
            )}
            <Removed onWrong={setProblem} />
          </section>
          {(rooms.data?.length ?? 0) + (bookmarks.data?.length ?? 0) > 0 && (
            <div className="shelf-rooms">
              <section aria-labelledby="rooms">
                <h2 id="rooms">Rooms</h2>
                <LongList
                  of={rooms.data ?? []}
                  what="room"
                  className="room-list"
                  each={(r) => <RoomCard key={r.id} room={r} onWrong={setProblem} />}
                />
              </section>
              <Bookmarks onOpen={setOpening} onWrong={setProblem} />
            </div>
          )}
        </div>
      </main>
      <OpenRoom
        of={
          opening && { name: opening.name, seats: opening.seats, ...("reach" in opening ? { kit: opening.id } : { bookmark: opening.id }) }
        }
        onClose={() => setOpening(null)}
      />
    </div>
  );
}

/** What one can do first. */
function First({ others }: { others: boolean }) {
  return (
    <section className="shelf-first">
      <h2>Your shelf is empty</h2>
      <ol>
        <li>
          <Link to="/bench">Make a kit</Link>: drop a sheet of cards, loose pictures or a table of cards. It is ready to be played from the
          first minute.
        </li>
        <li>Keep it: it stands here, with an edition for every time you keep it.</li>
        <li>Open a room with it, and send its link. Who gets it installs nothing.</li>
      </ol>
      {others && <p className="mb-0">Or copy a kit of others to your shelf, and play with that one first.</p>}
    </section>
  );
}

/** Takes a kit, or a bookmark, that was taken away elsewhere. */
function BringKit({ onWrong }: { onWrong: (text: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const changed = useShelfChanged();
  const bring = async (file: File) => {
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      if (!isBookmark(bytes)) {
        await navigate("/bench", { state: { file } });
        return;
      }
      const body = bytes as unknown as string; // bytes, whatever the description's type for them
      given(await asMaker.POST("/api/bookmarks", { body, bodySerializer: () => file, headers: { "Content-Type": "application/zip" } }));
      await changed();
    } catch (wrong) {
      onWrong(wrong instanceof Error ? wrong.message : String(wrong));
    }
  };
  return (
    <>
      <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
        Bring a file …
      </Button>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        hidden
        aria-label="A kit or a bookmark as one file"
        onChange={(e) => {
          const [file] = Array.from(e.target.files ?? []);
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </>
  );
}

/** Whether a file is a bookmark that was taken away. */
function isBookmark(zip: Uint8Array): boolean {
  let is = false;
  unzipSync(zip, {
    filter: (f) => {
      is ||= f.name === "bookmark.json";
      return false;
    },
  });
  return is;
}

/** What was removed, and can be brought back. */
function Removed({ onWrong }: { onWrong: (text: string) => void }) {
  const kits = useKits(true);
  const rooms = useRooms(true);
  const back = useDoing(onWrong);
  const all = [
    ...(kits.data ?? []).map((k) => ({
      key: k.id,
      text: `Kit ${k.name}`,
      at: k.removed_at ?? 0,
      restore: async () => given(await asMaker.POST("/api/kits/{kit}/restore", { params: { path: { kit: k.id } } })),
    })),
    ...(rooms.data ?? []).map((r) => ({
      key: r.id,
      text: `Room ${r.name}`,
      at: r.removed_at ?? 0,
      restore: async () => given(await asMaker.POST("/api/rooms/{room}/restore", { params: { path: { room: r.id } } })),
    })),
  ].sort((a, b) => b.at - a.at);
  if (all.length === 0) return null;
  return (
    <details className="shelf-removed">
      <summary>Removed in the last 30 days ({all.length})</summary>
      <ul>
        {all.map((one) => (
          <li key={one.key}>
            {one.text}, {ago(one.at)}
            <Button size="sm" variant="link" onClick={() => void back(one.restore)}>
              Bring it back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
