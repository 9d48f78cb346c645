import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Bookmark } from "lucide-react";
import { useEffect, useState } from "react";
import { useThemes } from "../../coding/overview";
import { say } from "../../language/say";
import { MemosOn } from "../../memos/MemosOn";
import { scopeAddress } from "../../project/grammar";
import { useMayCode } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Modal } from "../../ui/Modal";
import { useRefused } from "../../ui/refused";
import { useToasts } from "../../ui/toasts";
import { ComparePages } from "../ComparePages";
import { Freeze } from "../frozen/Freeze";
import { addressOf, type Question, rowsAsked } from "../spec";
import { shownOf, type View } from "../view";
import { Gone } from "./Gone";
import { type Kept, useKept, useKeptWrites } from "./kept";

interface Props {
	question: Question;
	view: View;
	/** The kept comparison that the address names. */
	open: number | null;
	/** It names nothing else, as from a memo: the rest is filled in. */
	bare: boolean;
	/** It asks for anything but what is usual. */
	touched: boolean;
	onOpen: (address: Record<string, string>) => void;
	onName: (kept: number | null) => void;
}

/** The name of a kept comparison, whether it is as it was kept, its memos, and the way to all others. */
export function Keep({ question, view, open, bare, touched, onOpen, onName }: Props) {
	const kept = useKept().data;
	const mayCode = useMayCode();
	const { change, remove } = useKeptWrites();
	const { tell } = useToasts();
	const [asking, setAsking] = useState<"keep" | "rename" | null>(null);
	const [freezing, setFreezing] = useState(false);
	const here = kept?.find((one) => one.id === open);
	const now = addressOf(question, view);
	const same = here && sameAddress(addressOf(here.asked, here.shown as View), now);
	const questions = useThemes().data?.questions ?? [];
	const about = questions.find((one) => one.id === here?.question)?.text;
	useEffect(() => {
		if (bare && here) onOpen({ kept: String(here.id), ...addressOf(here.asked, here.shown as View) });
	}, [bare, here, onOpen]);
	if (!kept) return null;
	const save = () =>
		here &&
		change.mutate(
			{ id: here.id, asked: question, shown: shownOf(view) },
			{ onSuccess: () => tell(say("“{name}” is kept as it is now.", { name: here.name })) },
		);
	return (
		<>
			<div className="flex min-h-8 flex-wrap items-center gap-x-2.5 gap-y-1">
				<ComparePages />
				<span className="ml-auto flex flex-wrap items-center gap-2 print:hidden">
					{here && !same && mayCode && <Button onClick={save}>{say("Keep these changes")}</Button>}
					{mayCode && (
						<Button onClick={() => setAsking("keep")} disabled={rowsAsked(question) === 0}>
							{here ? say("Keep as another") : say("Keep", undefined, "comparison")}
						</Button>
					)}
					{mayCode && (
						<Button onClick={() => setFreezing(true)} disabled={rowsAsked(question) === 0}>
							{say("Freeze")}
						</Button>
					)}
					{touched && <Button onClick={() => onOpen(scopeAddress(question.scope ?? {}))}>{say("Begin anew")}</Button>}
					{(kept.length > 0 || here) && (
						<Menu>
							<MenuButton className="inline-flex items-center gap-1.5 rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold hover:border-quiet">
								<Bookmark size={14} />
								{say(" Kept {kept} ▾", { kept: kept.length })}
							</MenuButton>
							<MenuItems
								anchor={{ to: "bottom end", gap: 4 }}
								className="z-40 max-h-96 w-72 overflow-auto rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg focus:outline-none"
							>
								{kept.map((one) => (
									<Item key={one.id} onClick={() => onOpen({ kept: String(one.id), ...addressOf(one.asked, one.shown as View) })}>
										<b className={one.id === open ? "text-spruce" : "font-medium"}>{one.name}</b>
										<span className="block text-xs text-quiet">
											{questions.find((asked) => asked.id === one.question)?.text ?? say("kept by {author}", { author: one.author })}
										</span>
									</Item>
								))}
								{here && mayCode && (
									<div className="mt-1 border-t border-line2 pt-1">
										<Item onClick={() => setAsking("rename")}>{say("Name and question of “{name}” …", { name: here.name })}</Item>
										<Item
											onClick={() =>
												remove.mutate(here.id, {
													onSuccess: () => {
														onName(null);
														tell(say("“{name}” isn’t kept any more. Ctrl Z brings it back.", { name: here.name }));
													},
												})
											}
										>
											{say("Let go of “{name}”", { name: here.name })}
										</Item>
									</div>
								)}
							</MenuItems>
						</Menu>
					)}
				</span>
				{freezing && <Freeze question={question} view={view} here={here} onClose={() => setFreezing(false)} />}
				{asking && (
					<NameIt
						here={asking === "rename" ? here : undefined}
						questions={questions}
						onClose={() => setAsking(null)}
						asked={{ asked: question, shown: shownOf(view) }}
						onKept={onName}
					/>
				)}
			</div>
			{here && (
				<div className="mt-2 flex items-center gap-2.5">
					<h2 className="text-[19px]!">{here.name}</h2>
					<span
						className={`rounded-full px-2.5 py-0.5 text-[12.6px] font-semibold ${same ? "bg-spruce-soft text-spruce" : "bg-apricot-soft text-apricot-deep"}`}
					>
						{same ? say("Kept · live") : say("Kept · changed here")}
					</span>
					{about && <span className="truncate text-[13px] text-quiet">{about}</span>}
					<MemosOn on="comparison" id={here.id} name={here.name} />
				</div>
			)}
			{here && <Gone kept={here} onTake={(asked) => onOpen({ kept: String(here.id), ...addressOf(asked, view) })} />}
		</>
	);
}

function Item({ onClick, children }: { onClick: () => void; children: React.ReactNode }) {
	return (
		<MenuItem>
			<button type="button" className="block w-full rounded-md px-2.5 py-1 text-left data-focus:bg-spruce-soft" onClick={onClick}>
				{children}
			</button>
		</MenuItem>
	);
}

function NameIt({
	here,
	asked,
	questions,
	onClose,
	onKept,
}: {
	here: Kept | undefined;
	asked: { asked: Question; shown: Kept["shown"] };
	questions: { id: number; text: string }[];
	onClose: () => void;
	onKept: (kept: number) => void;
}) {
	const { keep, change } = useKeptWrites();
	const [name, setName] = useState(here?.name ?? "");
	const [about, setAbout] = useState<number | null>(here?.question ?? null);
	const refused = useRefused(keep.error ?? change.error);
	const { tell } = useToasts();
	const save = () => {
		if (here) change.mutate({ id: here.id, name, question: about }, { onSuccess: onClose });
		else
			keep.mutate(
				{ name, question: about, ...asked },
				{
					onSuccess: ({ count }) => {
						tell(say("“{name}” is kept. It follows the data.", { name: name.trim() }));
						onKept(count);
						onClose();
					},
				},
			);
	};
	return (
		<Modal title={here ? say("Name and question") : say("Keep this comparison")} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					save();
				}}
			>
				<label className="mb-2 block">
					<span className="mb-0.5 block text-[13px] font-semibold">{say("Name")}</span>
					<input
						className="field w-full"
						value={name}
						maxLength={160}
						placeholder={say("such as: Who carries the crossing")}
						{...refused.field}
						onChange={(event) => setName(event.target.value)}
						autoFocus
					/>
				</label>
				{questions.length > 0 && (
					<div className="mb-3">
						<span className="mb-0.5 block text-[13px] font-semibold">{say("Research question")}</span>
						<Choice
							name={say("Research question")}
							value={about}
							options={[
								{ value: null, label: say("none") },
								...questions.map((one) => ({ value: one.id as number | null, label: one.text })),
							]}
							onChange={setAbout}
						/>
					</div>
				)}
				{refused.said}
				<p className="mb-3 text-[13px] text-quiet">{say("A kept comparison is live: it gives today’s figures whenever it is opened.")}</p>
				<Button type="submit" look="main" disabled={!name.trim()}>
					{here ? say("Save") : say("Keep", undefined, "comparison")}
				</Button>
			</form>
		</Modal>
	);
}

function sameAddress(one: Record<string, string>, other: Record<string, string>): boolean {
	const told = (address: Record<string, string>) => new URLSearchParams(Object.entries(address).sort()).toString();
	return told(one) === told(other);
}
