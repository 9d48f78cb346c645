import { ChevronLeft, ChevronRight, RotateCw, SquareDashed, ZoomIn, ZoomOut } from "lucide-react";
import { type KeyboardEvent, useMemo, useState } from "react";
import type { Code } from "../../codes/data";
import { say } from "../../language/say";
import { usePeopleWrites, useRoster } from "../../people/data";
import { useMayCode, useProject } from "../../project/project";
import { Choice } from "../../ui/Choice";
import { CardList } from "../cards/Cards";
import type { DeskDocument, Passage } from "../data";
import type { Region, Turns } from "../regions";
import { RegionSteps } from "./RegionSteps";
import { Regions } from "./Regions";

const ZOOMS = [0.5, 0.75, 1, 1.5, 2, 3, 4];

interface Props {
	document: DeskDocument;
	codes: Code[];
	page: number;
	onPage: (page: number) => void;
	marked: Region | null;
	active: number | null;
	mine: (passage: Passage) => boolean;
	onMark: (region: Region | null) => void;
	onActive: (passage: number) => void;
	onMove: (passage: Passage, region: Region) => void;
	onType: (key?: KeyboardEvent) => void;
}

/** The pages or pictures of a document: looked at closely, turned, and marked in regions that keep their place. */
export function PicturePanel({ document, codes, page, onPage, marked, active, mine, onMark, onActive, onMove, onType }: Props) {
	const { id } = useProject();
	const mayCode = useMayCode();
	const home = `/api/projects/${id}/documents/${document.id}`;
	const pictures = document.media.filter((medium) => medium.role === "picture");
	const pages = document.pages || pictures.length;
	const [drawn, setDrawn] = useState<{ source: string; width: number; height: number }>();
	const [zoom, setZoom] = useState(1);
	const [turns, setTurns] = useState<Turns>(0);
	const byId = useMemo(() => new Map(codes.map((code) => [code.id, code])), [codes]);
	const regions = useMemo(() => document.passages.filter((passage) => passage.region), [document.passages]);
	if (!pages) return null;
	const source = document.pages ? `${home}/pages/${page}` : `${home}/media/picture/${page}`;
	const ready = drawn?.source === source ? drawn : undefined;
	const ratio = ready ? ready.width / ready.height : 0.75;
	const lying = turns % 2 === 1;
	const here = regions.filter((passage) => passage.region?.page === page);
	const held = mayCode && !marked ? here.find((passage) => passage.id === active && mine(passage)) : undefined;
	const step = (by: 1 | -1) => setZoom(ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, ZOOMS.indexOf(zoom) + by))] ?? 1);
	return (
		<section aria-label={say("Pages")} className="flex min-h-0 flex-1 flex-col border-l border-line bg-paper2">
			<div className="flex flex-wrap items-center justify-center gap-x-3 gap-y-1 border-b border-line bg-card px-3 py-1 text-[13px]">
				{pages > 1 && (
					<>
						<Tool name={say("Previous page")} disabled={page <= 1} onClick={() => onPage(page - 1)}>
							<ChevronLeft size={16} />
						</Tool>
						{say("Page {page} of {pages}", { page, pages })}
						<Tool name={say("Next page")} disabled={page >= pages} onClick={() => onPage(page + 1)}>
							<ChevronRight size={16} />
						</Tool>
					</>
				)}
				<span className="flex items-center gap-1.5">
					<Tool name={say("Smaller")} disabled={zoom === ZOOMS[0]} onClick={() => step(-1)}>
						<ZoomOut size={15} />
					</Tool>
					<span className="w-10 text-center tabular-nums">{zoom * 100} %</span>
					<Tool name={say("Larger")} disabled={zoom === ZOOMS.at(-1)} onClick={() => step(1)}>
						<ZoomIn size={15} />
					</Tool>
				</span>
				<Tool name={say("Turn by a quarter")} onClick={() => setTurns(((turns + 1) % 4) as Turns)}>
					<RotateCw size={15} />
				</Tool>
				{document.kind === "image" && <Whose document={document} />}
				{mayCode && (
					<button
						type="button"
						className="inline-flex items-center gap-1 font-semibold text-spruce hover:underline"
						title={say("Dragging over the picture draws one too")}
						onClick={() => onMark({ page, left: 3500, top: 3500, right: 6500, bottom: 6500 })}
					>
						<SquareDashed size={15} />
						{say(" New region")}
					</button>
				)}
				{mayCode && marked?.page === page && <RegionSteps region={marked} turns={turns} onChange={onMark} />}
				{held?.region && <RegionSteps region={held.region} turns={turns} onChange={(to) => onMove(held, to)} />}
			</div>
			<div className="flex-1 pane p-3">
				{!ready && <p className="py-2 text-center quiet-line">{say("Drawing the page …")}</p>}
				<div
					className="relative mx-auto border border-line bg-card"
					style={{ width: `${zoom * 100}%`, aspectRatio: lying ? 1 / ratio : ratio }}
				>
					<img
						key={source}
						src={source}
						alt={say("{title}, page {page}", { title: document.title, page })}
						draggable={false}
						className="absolute top-1/2 left-1/2 max-w-none select-none"
						style={{ width: `${lying ? ratio * 100 : 100}%`, transform: `translate(-50%, -50%) rotate(${turns * 90}deg)` }}
						onLoad={(event) =>
							setDrawn({ source, width: event.currentTarget.naturalWidth || 3, height: event.currentTarget.naturalHeight || 4 })
						}
					/>
					<Regions
						page={page}
						turns={turns}
						passages={regions}
						byId={byId}
						marked={marked}
						active={active}
						mayDraw={mayCode}
						movable={mine}
						onMark={onMark}
						onActive={(passage) => onActive(passage.id)}
						onMove={onMove}
						onType={onType}
					/>
				</div>
			</div>
			{here.length > 0 && (
				<div className="max-h-[38%] shrink-0 pane border-t border-line p-2.5">
					<CardList
						name={say("Regions of this page")}
						passages={here}
						codes={codes}
						active={active}
						placeOf={(passage) => say("region {here}", { here: here.indexOf(passage) + 1 })}
						onActive={(passage) => onActive(passage.id)}
					/>
				</div>
			)}
		</section>
	);
}

/** Whose picture it is: its regions count for them. */
function Whose({ document }: { document: DeskDocument }) {
	const { case_one } = useProject();
	const mayCode = useMayCode();
	const { changeSpeaker } = usePeopleWrites();
	const cases = useRoster().data?.cases ?? [];
	const speaker = document.speakers[0];
	if (!speaker || document.speakers.length > 1) return null;
	return (
		<span className="flex items-center gap-1">
			<span className="text-quiet">{say("by")}</span>
			<Choice
				name={say("The {one} whose picture this is", { one: case_one })}
				as="small"
				disabled={!mayCode}
				value={speaker.case}
				options={[
					{ value: null as number | null, label: say("nobody in the roster") },
					...cases.map((row) => ({ value: row.id as number | null, label: row.identifier })),
				]}
				onChange={(case_id) => changeSpeaker.mutate({ id: speaker.id, role: case_id === null ? "other" : "participant", case: case_id })}
			/>
		</span>
	);
}

function Tool({ name, children, ...rest }: React.ButtonHTMLAttributes<HTMLButtonElement> & { name: string }) {
	return (
		<button type="button" aria-label={name} title={name} className="disabled:opacity-30" {...rest}>
			{children}
		</button>
	);
}

/** The page on which a turn or passage stands. */
export function pageAt(document: DeskDocument, position: number): number {
	const pages = document.sections.filter((section) => section.kind === "page" && section.start <= position);
	return pages.at(-1)?.level ?? 1;
}
