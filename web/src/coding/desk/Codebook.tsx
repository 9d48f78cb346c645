import { ChevronDown, ChevronRight } from "lucide-react";
import { type MouseEvent, memo, type RefObject, useMemo, useRef, useState } from "react";
import type { Code } from "../../codes/data";
import { useCodeWrites } from "../../codes/data";
import { type Branch, branches, wordsOf } from "../../codes/tree";
import { phrase, say } from "../../language/say";
import { useHere } from "../../project/here";
import { useMayCode, useProject } from "../../project/project";
import { codeColour } from "../../ui/palette";
import { useStable } from "../../ui/stable";
import { useLong } from "../../ui/virtual";
import { CodeCard } from "../codebook/CodeCard";

interface Props {
	codes: Code[];
	pins: { key: number; code: number }[];
	onCode: (id: number) => void;
	selecting: boolean;
}

/** The codebook beside the text: tree, search, counts, drag to nest, and a card a code. */
export const Codebook = memo(function Codebook({ codes, pins, onCode, selecting }: Props) {
	const mayCode = useMayCode();
	const { createCode, changeCode } = useCodeWrites();
	const move = useStable((to: Target) => changeCode.mutate(to));
	const { id: project } = useProject();
	const [words, setWords] = useState("");
	const [folded, setFolded] = useHere<number[]>(`folded ${project}`, []);
	const closed = useMemo<ReadonlySet<number>>(() => new Set(folded), [folded]);
	const [opened, setOpened] = useState<number | null>(null);
	// Parked codes are out of the way until they are looked for.
	const looking = words.trim() !== "";
	const tree = useMemo(() => branches(looking ? codes : codes.filter((code) => !code.parked)), [codes, looking]);
	const open = codes.find((code) => code.id === opened);
	const wanted = words.trim().toLowerCase();
	const frame = useRef<HTMLDivElement>(null);
	const rows = useMemo(() => inSight(tree, closed, wanted), [tree, closed, wanted]);
	const drawn = useLong(rows.length, frame, 30);
	const fold = useStable((id: number) => {
		const next = new Set(closed);
		if (!next.delete(id)) next.add(id);
		setFolded([...next]);
	});
	// Rows are drawn again only when codes are: whether words are selected changes at every key.
	const click = useStable((id: number) => (selecting ? onCode(id) : setOpened(opened === id ? null : id)));
	const hold = useStable((event: MouseEvent) => selecting && event.preventDefault());
	const exists = codes.some((code) => code.name.toLowerCase() === wanted);
	return (
		<aside aria-label={say("Codebook")} className="flex min-h-0 flex-col border-l border-line bg-card">
			<div className="flex items-center gap-2 border-b border-line px-3.5 py-2">
				<h2>{say("Codes")}</h2>
				<span className="quiet-line">{codes.length}</span>
				<input
					aria-label={say("Find in the codebook")}
					placeholder={mayCode ? say("Find or add") : say("Find")}
					className="field ml-auto w-36"
					value={words}
					onChange={(event) => setWords(event.target.value)}
					onKeyDown={(event) => {
						if (event.key === "Enter" && mayCode && wanted && !exists)
							createCode.mutate({ name: words.trim(), parent: null }, { onSuccess: () => setWords("") });
					}}
				/>
			</div>
			<DropPlace frame={frame} className="flex-1 pane px-1.5 py-1.5" onDrop={(id) => ({ id, parent: null })} onMove={move}>
				<div style={{ height: drawn.before }} />
				{drawn.items.map(({ index }) => {
					const branch = rows[index] as Branch;
					return (
						<Row
							key={branch.code.id}
							branch={branch}
							folded={closed.has(branch.code.id) && !wanted}
							onToggle={fold}
							on={opened === branch.code.id}
							onClick={click}
							onHold={hold}
							pin={pins.find((pin) => pin.code === branch.code.id)?.key}
							onMove={move}
						/>
					);
				})}
				<div style={{ height: drawn.after }} />
				{mayCode && wanted && !exists && (
					<button
						type="button"
						className="mt-1 block w-full rounded-md px-2 py-1 text-left text-spruce hover:bg-paper2"
						onClick={() => createCode.mutate({ name: words.trim(), parent: null }, { onSuccess: () => setWords("") })}
					>
						{phrase("Add the code “{words}” <key>Enter</key>", { words: words.trim(), key: (inner) => <kbd>{inner}</kbd> })}
					</button>
				)}
				{codes.length === 0 && (
					<p className="p-2 quiet-line">{say("No codes yet. Select words in the text and type a name, or add one above.")}</p>
				)}
			</DropPlace>
			{open ? (
				<CodeCard
					key={open.id}
					code={open}
					codes={codes}
					pin={pins.find((pin) => pin.code === open.id)?.key ?? null}
					onClose={() => setOpened(null)}
				/>
			) : (
				<p className="border-t border-line px-3.5 py-2 text-[12.2px] text-quiet">
					{selecting
						? say("Click a code to put it on the words.")
						: say("Click a code to see and change it. Drag it onto another to nest it, onto a passage to apply it.")}
				</p>
			)}
		</aside>
	);
});

/** Where a dragged code goes: beneath which, and before which of its siblings there. */
interface Target {
	id: number;
	parent: number | null;
	before?: number;
}

interface RowProps {
	branch: Branch;
	folded: boolean;
	onToggle: (id: number) => void;
	/** Whether its card is open. */
	on: boolean;
	onClick: (id: number) => void;
	onHold: (event: MouseEvent) => void;
	/** The key that it is pinned to. */
	pin: number | undefined;
	onMove: (to: Target) => void;
}

const Row = memo(function Row({ branch, folded, onToggle, on, onClick, onHold, pin, onMove }: RowProps) {
	const { code, children, depth } = branch;
	const mayCode = useMayCode();
	const total = children.length ? code.branch_passages : code.passages;
	return (
		<DropPlace
			onDrop={(id, above) => (above ? { id, parent: code.parent, before: code.id } : { id, parent: code.id })}
			edged
			onMove={onMove}
		>
			<div
				className={`flex items-center gap-1.5 rounded-md py-[3px] pr-2 text-[13.4px] ${on ? "bg-spruce-soft" : "hover:bg-paper2"}`}
				style={{ paddingLeft: 4 + depth * 16 }}
			>
				{children.length ? (
					<button
						type="button"
						aria-label={`${folded ? say("Unfold") : say("Fold")} ${code.name}`}
						aria-expanded={!folded}
						className="sign text-quiet"
						onClick={() => onToggle(code.id)}
					>
						{folded ? <ChevronRight size={13} /> : <ChevronDown size={13} />}
					</button>
				) : (
					<span className="w-[13px]" />
				)}
				<button
					type="button"
					draggable={mayCode}
					onDragStart={(event) => event.dataTransfer.setData("application/x-code", String(code.id))}
					className={`flex min-w-0 flex-1 items-center gap-1.5 text-left ${children.length ? "font-semibold" : ""}`}
					title={code.definition || code.name}
					onMouseDown={onHold}
					onClick={() => onClick(code.id)}
				>
					<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
					<span className="truncate">{code.name}</span>
					{pin && <kbd>{pin}</kbd>}
				</button>
				<span
					className="text-xs text-quiet"
					title={children.length ? say("{total} passages in this branch, each once", { total }) : say("{total} passages", { total })}
				>
					{total}
				</span>
			</div>
		</DropPlace>
	);
});

/** The rows that are seen, in order: what is folded stays away, and of what is looked for all that leads to it stays. */
function inSight(tree: Branch[], closed: ReadonlySet<number>, wanted: string): Branch[] {
	return tree.flatMap((branch) => {
		if (wanted && !mentions(branch, wanted)) return [];
		return [branch, ...(closed.has(branch.code.id) && !wanted ? [] : inSight(branch.children, closed, wanted))];
	});
}

/** Takes a dragged code and moves it here. */
function DropPlace({
	onDrop,
	onMove,
	edged = false,
	className,
	frame,
	children,
}: {
	onDrop: (id: number, above: boolean) => Target;
	onMove: (to: Target) => void;
	/** Its upper edge takes what is dropped before it, the rest what is dropped beneath it. */
	edged?: boolean;
	className?: string;
	frame?: RefObject<HTMLDivElement | null>;
	children: React.ReactNode;
}) {
	const [over, setOver] = useState<"above" | "onto" | null>(null);
	const edge = (event: React.DragEvent) => {
		const box = event.currentTarget.getBoundingClientRect();
		return edged && box.height > 0 && event.clientY < box.top + box.height * 0.3 ? "above" : "onto";
	};
	const look = { above: "shadow-[0_-2px_0_var(--color-spruce)]", onto: "rounded-md outline-2 outline-spruce" };
	return (
		// biome-ignore lint/a11y/noStaticElementInteractions: the code's card nests and orders by keyboard
		<div
			ref={frame}
			className={`${className ?? ""} ${over ? look[over] : ""}`}
			onDragOver={(event) => {
				if (!event.dataTransfer.types.includes("application/x-code")) return;
				event.preventDefault();
				event.stopPropagation();
				setOver(edge(event));
			}}
			onDragLeave={() => setOver(null)}
			onDrop={(event) => {
				event.preventDefault();
				event.stopPropagation();
				setOver(null);
				const id = Number(event.dataTransfer.getData("application/x-code"));
				const target = onDrop(id, edge(event) === "above");
				if (id && target.parent !== id && target.before !== id) onMove(target);
			}}
		>
			{children}
		</div>
	);
}

function mentions(branch: Branch, wanted: string): boolean {
	return wordsOf(branch.code).includes(wanted) || branch.children.some((child) => mentions(child, wanted));
}
