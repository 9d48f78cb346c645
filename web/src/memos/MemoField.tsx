import { type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from "react";
import { say } from "../language/say";
import { useThings } from "./data";
import { type MemoLink, matching, openBrackets, putIn } from "./linked";

export interface Written {
	text: string;
	links: MemoLink[];
}

/** Where a memo is written: two opening brackets offer what it can speak of. */
export function MemoField({
	name,
	value,
	onChange,
	onKeyDown,
	rows,
	placeholder,
	className,
	autoFocus = false,
}: {
	name: string;
	value: Written;
	onChange: (value: Written) => void;
	onKeyDown?: (event: KeyboardEvent<HTMLTextAreaElement>) => void;
	rows: number;
	placeholder?: string | undefined;
	className: string;
	autoFocus?: boolean;
}) {
	const own = useRef<HTMLTextAreaElement>(null);
	const list = useId();
	const [open, setOpen] = useState<{ start: number; caret: number; typed: string } | null>(null);
	const [at, setAt] = useState(0);
	const caret = useRef<number | null>(null);
	const things = useThings(open !== null);
	const offered = open ? matching(things, open.typed) : [];
	const chosen = offered[Math.min(at, offered.length - 1)];
	useLayoutEffect(() => {
		if (caret.current === null) return;
		own.current?.setSelectionRange(caret.current, caret.current);
		caret.current = null;
	});
	const look = (area: HTMLTextAreaElement) => {
		const found = openBrackets(area.value, area.selectionStart);
		setOpen(found && { ...found, caret: area.selectionStart });
		if (found?.typed !== open?.typed) setAt(0);
	};
	const take = (thing = chosen) => {
		if (!open || !thing) return;
		const put = putIn(value.text, value.links, open, thing);
		caret.current = put.caret;
		onChange({ text: put.text, links: put.links });
		setOpen(null);
		own.current?.focus();
	};
	const key = (event: KeyboardEvent<HTMLTextAreaElement>) => {
		const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
		if (open && offered.length && step) setAt((Math.min(at, offered.length - 1) + step + offered.length) % offered.length);
		else if (open && chosen && !event.ctrlKey && (event.key === "Enter" || event.key === "Tab")) take();
		else if (open && event.key === "Escape") setOpen(null);
		else {
			onKeyDown?.(event);
			return;
		}
		event.preventDefault();
		event.stopPropagation();
	};
	return (
		<div className="relative">
			<textarea
				ref={own}
				autoFocus={autoFocus}
				aria-label={name}
				aria-autocomplete="list"
				aria-controls={offered.length ? list : undefined}
				aria-activedescendant={offered.length ? `${list}-${offered.indexOf(chosen as (typeof offered)[number])}` : undefined}
				dir="auto"
				rows={rows}
				placeholder={placeholder}
				className={className}
				value={value.text}
				onChange={(event) => {
					onChange({ ...value, text: event.target.value });
					look(event.target);
				}}
				onSelect={(event) => look(event.currentTarget)}
				onBlur={() => setOpen(null)}
				onKeyDown={key}
			/>
			{open && (
				<div className="absolute inset-x-0 top-full z-30 mt-0.5 rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg">
					<div id={list} role="listbox" aria-label={say("What the memo speaks of")}>
						{offered.map((thing, place) => (
							<div
								key={`${thing.thing}${thing.id}`}
								id={`${list}-${place}`}
								role="option"
								tabIndex={-1}
								aria-selected={thing === chosen}
								className={`flex cursor-pointer items-baseline gap-2 rounded px-2 py-1 ${thing === chosen ? "bg-spruce-soft" : ""}`}
								// Before the field loses the keys, which would close the list.
								onMouseDown={(event) => {
									event.preventDefault();
									take(thing);
								}}
							>
								<span className="min-w-0 truncate">{thing.name}</span>
								<span className="ml-auto shrink-0 quiet-line">{thing.kind}</span>
							</div>
						))}
					</div>
					{offered.length === 0 && (
						<p role="status" className="px-2 py-1 quiet-line">
							{say("Nothing is called so; in brackets it stays plain words.")}
						</p>
					)}
				</div>
			)}
		</div>
	);
}
