import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { X } from "lucide-react";
import type { ReactNode } from "react";

/** A dialog with a title; Esc and the cross close it. */
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
	wide?: boolean;
	children: ReactNode;
}) {
	return (
		<Dialog open={open} onClose={onClose} className="relative z-50">
			<div className="fixed inset-0 bg-ink/25" aria-hidden="true" />
			<div className="fixed inset-0 flex items-start justify-center overflow-y-auto p-6 pt-[9vh]">
				<DialogPanel className={`w-full ${wide ? "max-w-2xl" : "max-w-md"} rounded-lg border border-line bg-white p-5 shadow-xl`}>
					<div className="mb-3 flex items-center">
						<DialogTitle as="h1">{title}</DialogTitle>
						<button type="button" aria-label="Close" onClick={onClose} className="ml-auto rounded p-1 text-quiet hover:text-ink">
							<X size={16} />
						</button>
					</div>
					{children}
				</DialogPanel>
			</div>
		</Dialog>
	);
}
