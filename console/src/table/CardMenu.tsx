// The acts for what is chosen, in a menu.
import { actsFor } from "./acts";
import { Menu, type MenuAt } from "./Menu";
import { useTable } from "./TableContext";

export function CardMenu({ at, count, onClose }: { at: MenuAt | null; count: number; onClose: () => void }) {
  const { view, chosen, act, canAct } = useTable();
  const items = actsFor(view, chosen, count).map(({ key, label, action }) => ({
    key,
    label,
    disabled: !canAct,
    run: () => void act(action),
  }));
  return <Menu at={at} label="What to do" items={items} onClose={onClose} />;
}
