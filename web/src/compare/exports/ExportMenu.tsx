import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import type { ReactNode } from "react";
import { type Caption, useSaving } from "./saving";

/** A menu of ways out, in parts with a head. */
export function ExportMenu({ children, className = "" }: { children: ReactNode; className?: string }) {
	return (
		<Menu>
			<MenuButton
				className={`rounded-md border border-line bg-white px-2.5 py-1 text-[13px] font-semibold hover:border-quiet ${className}`}
			>
				Export ▾
			</MenuButton>
			<MenuItems
				anchor={{ to: "bottom end", gap: 4 }}
				className="z-40 w-72 rounded-lg border border-line bg-white p-1 text-[13.4px] shadow-lg focus:outline-none"
			>
				{children}
			</MenuItems>
		</Menu>
	);
}

export function Head({ children }: { children: ReactNode }) {
	return <div className="px-3 pt-1.5 pb-0.5 text-[12px] font-semibold text-quiet">{children}</div>;
}

export function Way({ label, onClick }: { label: string; onClick: () => void }) {
	return (
		<MenuItem>
			<button type="button" className="block w-full rounded-md px-3 py-1 text-left data-focus:bg-spruce-soft" onClick={onClick}>
				{label}
			</button>
		</MenuItem>
	);
}

/** The figure as it stands on the page. */
export function PictureWays({ head = "Figure, as it stands", ...caption }: Caption & { head?: string }) {
	const { picture } = useSaving();
	return (
		<>
			<Head>{head}</Head>
			<Way label="Drawing (.svg)" onClick={() => void picture("svg", caption)} />
			<Way label="Picture (.png)" onClick={() => void picture("png", caption)} />
		</>
	);
}
