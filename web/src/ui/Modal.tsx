import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { X } from "lucide-react";
import { type ReactNode, useRef } from "react";
import { say } from "../language/say";
import { useFocusBack } from "./focusBack";

/** Not one that opens a list over the rest as soon as it has the keys. */
const FIELD = "input:enabled:not([type=hidden], [type=file], [role=combobox]), textarea:enabled, select:enabled";

/** A dialog with a title; Esc and the cross close it. The keys go to what asks for them, else to its first field, else to the cross. */
export function Modal({
	title,
	open = true,
	onClose,
	wide = false,
	children,
}: {
	title: string;
	open?: boolean;
	onClose: () => void;
	/** For much to read or to fill in; "very" for lists side by side. */
	wide?: boolean | "very";
	children: ReactNode;
}) {
	const first = useRef<HTMLElement>(null);
	useFocusBack();
	const found = (panel: HTMLElement | null) => {
		if (!panel) return;
		const taken = panel.contains(document.activeElement) ? (document.activeElement as HTMLElement) : null;
		first.current = taken ?? panel.querySelector<HTMLElement>(FIELD) ?? panel.querySelector<HTMLElement>("[data-close]");
	};
	return (
		<Dialog open={open} onClose={onClose} initialFocus={first} className="relative z-50 focus:outline-none">
			<div className="fixed inset-0 bg-veil" aria-hidden="true" />
			<div className="fixed inset-0 flex items-start justify-center overflow-y-auto p-6 pt-[9vh]">
				<DialogPanel
					ref={found}
					className={`w-full ${wide === "very" ? "max-w-5xl" : wide ? "max-w-2xl" : "max-w-md"} rounded-lg border border-line bg-card p-5 shadow-xl`}
				>
					<div className="mb-3 flex items-center">
						<DialogTitle as="h2" className="title">
							{title}
						</DialogTitle>
						<button
							type="button"
							data-close
							aria-label={say("Close")}
							onClick={onClose}
							className="ml-auto rounded p-1 text-quiet hover:text-ink"
						>
							<X size={16} />
						</button>
					</div>
					{children}
				</DialogPanel>
			</div>
		</Dialog>
	);
}
