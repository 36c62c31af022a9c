import { Menu as Headless, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";

export type Choice = {
  id: string;
  name: ReactNode;
  /** a second, paler line */
  what?: ReactNode;
} & ({ onChoose: () => void } | { to: string } | { file: string; as: string });

type Props = {
  label: ReactNode;
  choices: Choice[];
  /** what stands in place of the choices: still opening, or why there are none */
  instead?: ReactNode;
  small?: boolean;
  /** Tailwind's width of the open list */
  width?: string;
  end?: boolean;
  testId?: string;
  onOpen?: () => void;
};

const ENTRY = "block w-full cursor-pointer rounded px-2 py-1.5 text-left data-focus:bg-base-200";

/** A button that opens a list of things to do. Arrow keys, letters and Escape work as in every menu. */
export function Menu({ label, choices, instead, small, width = "w-64", end, testId, onOpen }: Props) {
  return (
    <Headless>
      <MenuButton className={`btn ${small ? "btn-xs" : "btn-sm"}`} onFocus={onOpen}>
        {label}
      </MenuButton>
      <MenuItems
        anchor={{ to: end ? "bottom end" : "bottom start", gap: 4, padding: 8 }}
        modal={false}
        data-testid={testId}
        className={`z-40 max-w-[90vw] overflow-y-auto rounded border border-base-300 bg-base-100 p-1 text-sm text-base-content shadow outline-none ${width}`}
      >
        {instead && <p className="p-2">{instead}</p>}
        {choices.map((choice) => (
          <MenuItem key={choice.id}>
            {"to" in choice ? (
              <Link className={ENTRY} to={choice.to}>
                <Words of={choice} />
              </Link>
            ) : "file" in choice ? (
              <a className={ENTRY} href={choice.file} download={choice.as}>
                <Words of={choice} />
              </a>
            ) : (
              <button type="button" className={ENTRY} onClick={choice.onChoose}>
                <Words of={choice} />
              </button>
            )}
          </MenuItem>
        ))}
      </MenuItems>
    </Headless>
  );
}

function Words({ of: { name, what } }: { of: Choice }) {
  return (
    <>
      {name}
      {what && <span className="faint block text-xs">{what}</span>}
    </>
  );
}
