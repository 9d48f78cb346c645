import { useMemo } from "react";
import { useNavigate } from "react-router";
import type { Shape } from "../../api/client";
import { type Box, rings, squares } from "../../charts/nesting";
import { ringPiece } from "../../charts/shapes";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { Empty } from "../../ui/Empty";
import { codeColour, groupMark } from "../../ui/palette";
import { useWidth } from "../../ui/width";
import { counted } from "../../ui/words";
import { opens } from "../forms/Opens";

type Data = Shape<"HoldingsOut">;
type Held = Shape<"HeldCode">;
type Measure = "passages" | "people";

interface Node {
	code: Held;
	/** What the code holds itself and all beneath it add up to: areas have to. */
	size: number;
	own: number;
	branch: number;
	children: Node[];
}

/** The codebook as nested tiles or as a ring, whole or one for each group. */
export function Holdings({ data, measure, form }: { data: Data; measure: Measure; form: "tiles" | "ring" }) {
	const { case_one, case_many } = useProject();
	const [measured, whole] = useWidth(1200);
	const sides = data.groups.length ? data.groups.map((_, group) => group) : [null];
	return (
		<>
			<p className="mb-2 max-w-3xl text-[13px] text-quiet">
				{form === "tiles" ? say("A tile’s area is what is counted.") : say("An arc’s length is what is counted.")}{" "}
				{measure === "people"
					? say("Counted is the number of {many} who mention the code.", { many: case_many })
					: say("Counted is the number of its passages.")}{" "}
				{say("Inside a branch stand the codes beneath it and, faint, what is coded with the branch itself.")}{" "}
				{measure === "people"
					? say("They add up over codes, so one {one} with several codes counts in each; the figures name each once.", { one: case_one })
					: say("They add up over codes, so one passage with several codes counts in each; the figures name each once.")}
			</p>
			<div ref={measured} data-form className="flex flex-wrap gap-5">
				{sides.map((group) => (
					<Side
						key={group ?? "all"}
						data={data}
						measure={measure}
						form={form}
						group={group}
						wide={sides.length > 1 ? Math.max(380, Math.floor((whole - 20) / 2)) : Math.max(480, whole)}
					/>
				))}
			</div>
		</>
	);
}

function Side({
	data,
	measure,
	form,
	group,
	wide,
}: {
	data: Data;
	measure: Measure;
	form: "tiles" | "ring";
	group: number | null;
	wide: number;
}) {
	const { id, case_one, case_many } = useProject();
	const navigate = useNavigate();
	const roots = useMemo(() => tree(data.codes, measure, group), [data, measure, group]);
	const name = group === null ? null : data.groups[group];
	const high = form === "ring" ? Math.min(wide, 580) : Math.round(Math.min(wide * 0.6, 560));
	const open = (node: Node) => void navigate(`/projects/${id}/compare?codes=${node.code.id}`);
	return (
		<section aria-label={name?.name ?? say("Everyone")}>
			{name && (
				<h2 className="mb-1 font-semibold" style={{ color: groupMark(name.mark).colour }}>
					{groupMark(name.mark).shape} {name.name}{" "}
					<span className="font-normal text-quiet">{counted(data.group_people[group ?? 0] ?? 0, case_one, case_many)}</span>
				</h2>
			)}
			{roots.length === 0 ? (
				<Empty title={say("Nothing is coded here")}>{say("Widen the scope, or code first.")}</Empty>
			) : (
				<svg width={form === "ring" ? high : wide} height={high} className="text-[11.5px]">
					<title>{say("What the codebook holds{which}", { which: name ? `: ${name.name}` : "" })}</title>
					{form === "tiles" ? (
						<Tiles nodes={roots} x={0} y={0} w={wide} h={high} depth={0} onOpen={open} />
					) : (
						<Ring roots={roots} size={high} onOpen={open} />
					)}
				</svg>
			)}
		</section>
	);
}

function tree(codes: Held[], measure: Measure, group: number | null): Node[] {
	const figure = (code: Held, whole: boolean) => {
		if (group === null) return whole ? (measure === "people" ? code.branch_people : code.branch_passages) : code[measure];
		const held = code.by_group[group];
		if (!held) return 0;
		return whole ? held[measure] : measure === "people" ? held.own_people : held.own_passages;
	};
	const beneath = (parent: number | null): Node[] =>
		codes
			.filter((code) => code.parent === parent)
			.map((code) => {
				const children = beneath(code.id);
				const own = figure(code, false);
				return { code, own, branch: figure(code, true), children, size: own + children.reduce((sum, child) => sum + child.size, 0) };
			})
			.filter((node) => node.size > 0)
			.sort((a, b) => b.size - a.size);
	return beneath(null);
}

function Tiles({ nodes, depth, onOpen, ...box }: Box & { nodes: Node[]; depth: number; onOpen: (node: Node) => void }) {
	return squares(nodes, box).map(({ node, x, y, w, h }) => {
		const words = `${node.code.name}: ${node.branch}`;
		const nested = node.children.length > 0 && w > 40 && h > 34;
		const share = node.size ? node.own / node.size : 0;
		const inner = { x: x + 2, y: y + 18, w: w - 4, h: (h - 20) * (1 - share) };
		return (
			<g key={node.code.id}>
				<g {...opens(words, () => onOpen(node))}>
					<title>{words}</title>
					<rect
						x={x + 1}
						y={y + 1}
						width={Math.max(0, w - 2)}
						height={Math.max(0, h - 2)}
						rx={3}
						fill={codeColour(node.code.colour)}
						fillOpacity={nested ? 0.22 : 0.5}
						stroke="var(--color-card)"
					/>
					{w > 34 && h > 15 && (
						<Name node={node} x={x + 6} y={y + 14} w={w - 10} lines={nested ? 1 : Math.floor((h - 4) / 14)} nested={nested} />
					)}
				</g>
				{nested && inner.h > 8 && <Tiles {...inner} nodes={node.children} depth={depth + 1} onOpen={onOpen} />}
			</g>
		);
	});
}

/** A name on as many lines as there is room for, its figure behind it. */
function Name({ node, x, y, w, lines, nested }: { node: Node; x: number; y: number; w: number; lines: number; nested: boolean }) {
	const words = broken(`${node.code.name} ${node.branch}`, Math.max(4, Math.floor(w / LETTER)), lines);
	return (
		<text fill="var(--color-ink)" stroke="none" fontWeight={nested ? 600 : 400}>
			{words.map((line, at) => (
				<tspan key={line} x={x} y={y + 14 * at}>
					{at < words.length - 1 ? `${line} ` : line}
				</tspan>
			))}
		</text>
	);
}

const LETTER = 6;

/** Words broken into lines of so many letters; the last line keeps the figure at the end. */
export function broken(said: string, letters: number, lines: number): string[] {
	const made: string[] = [];
	for (const word of said.split(" ")) {
		const last = made.at(-1);
		if (last !== undefined && last.length + word.length < letters) made[made.length - 1] = `${last} ${word}`;
		else made.push(word);
	}
	if (made.length <= lines) return made.map((line) => cut(line, letters * LETTER));
	const kept = made.slice(0, lines - 1);
	const figure = said.slice(said.lastIndexOf(" "));
	const rest = said.slice(kept.join(" ").length, -figure.length).trim();
	return [...kept.map((line) => cut(line, letters * LETTER)), `${cut(rest, (letters - figure.length) * LETTER)}${figure}`.trim()];
}

const cut = (name: string, wide: number) => (name.length * 6 > wide ? `${name.slice(0, Math.max(1, Math.floor(wide / 6) - 1))}…` : name);

function Ring({ roots, size, onOpen }: { roots: Node[]; size: number; onOpen: (node: Node) => void }) {
	const deepest = Math.max(1, ...roots.map(depthOf));
	const middle = size / 2;
	const step = (middle - 44) / deepest;
	return rings(roots).map(({ node, from, to, level }) => {
		const [inner, outer] = [44 + level * step, 44 + (level + 1) * step - 2];
		const words = `${node.code.name}: ${node.branch}`;
		const half = (from + to) / 2;
		const room = (to - from) * (inner + outer) * 0.5 > 14;
		const turned = (half * 180) / Math.PI - 90;
		const flip = half > Math.PI;
		return (
			<g key={node.code.id}>
				<path
					d={ringPiece(inner, outer, from, to - 0.004)}
					transform={`translate(${middle} ${middle})`}
					fill={codeColour(node.code.colour)}
					fillOpacity={level ? 0.4 : 0.7}
					stroke="var(--color-card)"
					{...opens(words, () => onOpen(node))}
				>
					<title>{words}</title>
				</path>
				{room && (
					<text
						transform={`rotate(${turned} ${middle} ${middle}) translate(${middle + (inner + outer) / 2} ${middle}) rotate(${flip ? 180 : 0})`}
						textAnchor="middle"
						dominantBaseline="middle"
						fill="var(--color-ink)"
						pointerEvents="none"
						fontSize={10.5}
					>
						{cut(node.code.name, outer - inner - 4)}
					</text>
				)}
			</g>
		);
	});
}

const depthOf = (node: Node): number => 1 + Math.max(0, ...node.children.map(depthOf));
