import { Popover, PopoverButton, PopoverPanel, useClose } from "@headlessui/react";
import type { KeyboardEvent, ReactNode } from "react";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { useToasts } from "../../ui/toasts";
import { type Caption, type PictureKind, useSaving } from "./saving";

/** Ways out, in parts with a head. A panel, not a menu, so that it can hold a field too; arrows go from way to way. */
export function ExportMenu({ children, className = "" }: { children: ReactNode; className?: string }) {
	return (
		<Popover className="inline">
			<PopoverButton
				className={`rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold hover:border-quiet ${className}`}
			>
				{say("Export ▾")}
			</PopoverButton>
			<PopoverPanel
				anchor={{ to: "bottom end", gap: 4, padding: 8 }}
				focus
				aria-label={say("Export")}
				role="dialog"
				onKeyDown={byArrows}
				className="z-40 w-76 rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg focus:outline-none"
			>
				{children}
			</PopoverPanel>
		</Popover>
	);
}

function byArrows(event: KeyboardEvent<HTMLElement>) {
	const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
	if (step === undefined || (event.target as HTMLElement).tagName === "INPUT") return;
	const ways = [...event.currentTarget.querySelectorAll<HTMLElement>("button, input")];
	const at = ways.indexOf(document.activeElement as HTMLElement);
	ways[(at + step + ways.length) % ways.length]?.focus();
	event.preventDefault();
}

export function Head({ children }: { children: ReactNode }) {
	return <div className="px-3 pt-1.5 pb-0.5 text-[12px] font-semibold text-quiet">{children}</div>;
}

export function Way({ label, onClick }: { label: string; onClick: () => void }) {
	const close = useClose();
	return (
		<button
			type="button"
			className="block w-full rounded-md px-3 py-1 text-left hover:bg-spruce-soft focus-visible:bg-spruce-soft"
			onClick={() => {
				close();
				onClick();
			}}
		>
			{label}
		</button>
	);
}

/** The figure as it stands on the page; a project that hides small cells has ``instead`` of its own way. */
export function PictureWays({
	head = say("Figure, as it stands"),
	instead,
	...caption
}: Caption & { head?: string; instead?: (kind: PictureKind) => void }) {
	const { picture } = useSaving();
	const save = (kind: PictureKind) => (instead ? instead(kind) : void picture(kind, caption));
	return (
		<>
			<Head>{head}</Head>
			<Way label={say("Copy the figure")} onClick={() => save("copy")} />
			<Way label={say("Drawing (.svg)")} onClick={() => save("svg")} />
			<Way label={say("Picture (.png)")} onClick={() => save("png")} />
		</>
	);
}

/** A figure of exact counts: from a project with a limit it doesn’t leave; the spreadsheet does, with small cells hidden. */
export function GuardedPicture(caption: Caption & { head?: string }) {
	const { hide_below, round_to } = useProject();
	const { warn } = useToasts();
	const guarded = hide_below > 1 || round_to > 0;
	const why = say("This figure shows exact counts, and this project hides small cells in what leaves. Take the spreadsheet instead.");
	return <PictureWays {...caption} {...(guarded && { instead: () => warn(why) })} />;
}
