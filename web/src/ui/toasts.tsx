import { createContext, type ReactNode, useCallback, useContext, useMemo, useState } from "react";
import { say } from "../language/say";

interface Toast {
	id: number;
	text: string;
	bad: boolean;
	offer?: Offer | undefined;
}

/** What can be done about what is said. */
interface Offer {
	label: string;
	act: () => void;
}

const Context = createContext<{ tell: (text: string, offer?: Offer) => void; warn: (text: string) => void } | null>(null);
const SHOWN_FOR = 6000;
/** Time to read what went and to take it back: what is offered is on its key and button too. */
const OFFERED_FOR = 20_000;
let last = 0;

/** Short notices at the foot of the window. */
export function Toasts({ children }: { children: ReactNode }) {
	const [toasts, setToasts] = useState<Toast[]>([]);
	const drop = useCallback((id: number) => setToasts((all) => all.filter((toast) => toast.id !== id)), []);
	const add = useCallback(
		(text: string, bad: boolean, offer?: Offer) => {
			last += 1;
			const id = last;
			setToasts((all) => [...all.filter((toast) => toast.text !== text).slice(-2), { id, text, bad, offer }]);
			// Nothing goes while somebody is at it (WCAG 2.2.1).
			const go = () => {
				const shown = document.getElementById(`toast-${id}`);
				if (shown && (shown.matches(":hover") || shown.contains(document.activeElement))) window.setTimeout(go, SHOWN_FOR);
				else drop(id);
			};
			window.setTimeout(go, offer ? OFFERED_FOR : bad ? SHOWN_FOR * 2 : SHOWN_FOR);
		},
		[drop],
	);
	const value = useMemo(
		() => ({ tell: (text: string, offer?: Offer) => add(text, false, offer), warn: (text: string) => add(text, true) }),
		[add],
	);
	return (
		<Context.Provider value={value}>
			{children}
			<div className="pointer-events-none fixed top-24 right-4 z-[60] flex w-80 flex-col gap-2" aria-live="polite">
				{toasts.map((toast) => (
					<div
						key={toast.id}
						id={`toast-${toast.id}`}
						role={toast.bad ? "alert" : "status"}
						className={`pointer-events-auto flex items-start gap-2 rounded-md border bg-card px-3 py-2 shadow-lg ${toast.bad ? "border-danger text-danger" : "border-line"}`}
					>
						<span className="flex-1">
							{toast.text}
							{toast.offer && (
								<button
									type="button"
									className="ml-2 font-semibold text-spruce underline underline-offset-2"
									onClick={() => {
										toast.offer?.act();
										drop(toast.id);
									}}
								>
									{toast.offer.label}
								</button>
							)}
						</span>
						<button type="button" aria-label={say("Dismiss")} className="text-quiet hover:text-ink" onClick={() => drop(toast.id)}>
							×
						</button>
					</div>
				))}
			</div>
		</Context.Provider>
	);
}

export function useToasts() {
	const found = useContext(Context);
	if (!found) throw new Error("Toasts are missing above this component.");
	return found;
}
