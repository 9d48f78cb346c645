import type { KeyboardEvent, ReactNode } from "react";
import { say } from "../../language/say";
import { useWidth } from "../../ui/width";

/** What makes a drawn mark a button: it opens, by mouse and by keyboard, and has a name. */
export function opens(label: string, onOpen: () => void) {
	return {
		role: "button",
		tabIndex: 0,
		"aria-label": say("{label}. Open the passages", { label }),
		className: "cursor-pointer outline-none hover:stroke-ink focus-visible:stroke-ink [stroke-width:1.5]",
		onClick: onOpen,
		onKeyDown: (event: KeyboardEvent) => {
			if (event.key !== "Enter" && event.key !== " ") return;
			event.preventDefault();
			onOpen();
		},
	} as const;
}

/** The frame of every drawn form; what is drawn may ask how wide it can be. */
export function Drawn({ children }: { children: ReactNode | ((wide: number) => ReactNode) }) {
	const [measured, wide] = useWidth();
	return (
		<div ref={measured} className="max-h-[max(240px,calc(100vh-310px))] pane rounded-b-lg border border-t-0 border-line bg-card p-4">
			{typeof children === "function" ? children(Math.max(wide, NARROWEST)) : children}
		</div>
	);
}

/** Narrower than this a drawing is scrolled. */
const NARROWEST = 560;

export interface FormProps {
	result: import("../data").Comparison;
	places: number[];
	onOpen: (number: import("../spec").Opened) => void;
}
