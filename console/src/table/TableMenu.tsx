// What can be done with the table as a whole, most of it by the host.
import { useCallback, useState } from "react";
import Button from "react-bootstrap/Button";
import type { Action, View } from "../api/client";
import { askFor } from "../parts/Asking";
import { pageKeys } from "./keymap";
import { Menu, type Item, type MenuAt } from "./Menu";
import { useTable } from "./TableContext";

/** Arranging, for who may: whether one does, and how to begin or stop. */
interface Arranging {
  on: boolean;
  toggle: () => void;
}

export function TableMenu({ arranging }: { arranging: Arranging | null }) {
  const { view, act, canAct } = useTable();
  const [at, setAt] = useState<MenuAt | null>(null);
  const close = useCallback(() => setAt(null), []);
  return (
    <>
      <Button
        size="sm"
        variant="outline-primary"
        aria-haspopup="menu"
        onClick={(e) => {
          const r = e.currentTarget.getBoundingClientRect();
          setAt({ x: r.left, y: r.bottom + 4 });
        }}
      >
        Table
      </Button>
      <Menu
        at={at}
        label="What to do with the table"
        items={tableItems(view, canAct, arranging, (action) => void act(action))}
        onClose={close}
      />
    </>
  );
}

export function tableItems(view: View, canAct: boolean, arranging: Arranging | null, act: (action: Action) => void): Item[] {
  const { settings } = view;
  const items: Item[] = [{ label: "Copy the link to this room", run: () => void navigator.clipboard?.writeText(location.href) }];
  if (!canAct) return items;
  if (settings.setup)
    items.push({
      label: "Set the game up",
      run: () => void askFor({ question: "Do the steps of the setup?", detail: settings.setup, yes: "Set up" }, () => act({ do: "run" })),
    });
  if (settings.setup)
    items.push({
      label: "Set up again",
      run: () =>
        void askFor(
          {
            question: "Bring everything home and set up again?",
            detail: `All decks go to their homes, hands included, and then these steps are done:\n\n${settings.setup}`,
            yes: "Set up again",
          },
          () => act({ do: "all", actions: [{ do: "everything-home" }, { do: "run" }] }),
        ),
    });
  items.push({
    label: "Everything home",
    run: () =>
      void askFor(
        {
          question: "Bring everything home?",
          detail: "All decks go to their homes, hands included, and pieces to where they were laid. Undo takes it back.",
          yes: "Everything home",
        },
        () => act({ do: "everything-home" }),
      ),
  });
  if (arranging)
    items.push(
      arranging.on
        ? { label: "Stop arranging", run: arranging.toggle }
        : { label: "Arrange the table", key: pageKeys.arrange.keys[0], run: arranging.toggle },
    );
  if (settings.host !== view.you) return items;
  items.push(
    settings.locked
      ? { label: "Unlock the room", run: () => act({ do: "door", locked: false }) }
      : { label: "Lock the room: nobody new comes in", run: () => act({ do: "door", locked: true }) },
    settings.spectators === "no"
      ? { label: "Let people watch", run: () => act({ do: "door", spectators: true }) }
      : { label: "Let nobody watch", run: () => act({ do: "door", spectators: false }) },
    { label: "Undo the last action of anyone", run: () => act({ do: "undo", anyone: true }) },
    {
      label: "End the game",
      run: () =>
        void askFor(
          {
            question: "End the game?",
            detail:
              "Nothing is done at this table any more, and the seed of its shuffles is disclosed so that anyone can check them. This cannot be undone.",
            yes: "End the game",
          },
          () => act({ do: "end" }),
        ),
    },
  );
  return items;
}
