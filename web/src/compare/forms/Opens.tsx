import type { KeyboardEvent } from "react";

/** What makes a drawn mark a button: it opens, by mouse and by keyboard, and has a name. */
export function opens(label: string, onOpen: () => void) {
	return {
		role: "button",
		tabIndex: 0,
		"aria-label": `${label}. Open the passages`,
		className: "cursor-pointer outline-none hover:stroke-ink focus-visible:stroke-ink [stroke-width:1.5]",
		onClick: onOpen,
		onKeyDown: (event: KeyboardEvent) => {
			if (event.key !== "Enter" && event.key !== " ") return;
			event.preventDefault();
			onOpen();
		},
	} as const;
}

/** The frame of every drawn form. */
export function Drawn({ children }: { children: React.ReactNode }) {
	return (
		<div className="max-h-[max(240px,calc(100vh-310px))] overflow-auto rounded-b-lg border border-t-0 border-line bg-white p-4">
			{children}
		</div>
	);
}

export interface FormProps {
	result: import("../data").Comparison;
	places: number[];
	onOpen: (number: import("../spec").Opened) => void;
}
