import { type KeyboardEvent, startTransition, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ApiError } from "../../api/client";
import { type Code, useCodebook } from "../../codes/data";
import { useRecent } from "../../codes/recent";
import { useDocuments } from "../../gather/data";
import { useShowKeys } from "../../help/Keys";
import { say } from "../../language/say";
import { useRoster } from "../../people/data";
import { reasonOf } from "../../people/kinds";
import { useAddress, useAddressed, useRested } from "../../project/address";
import { useHere } from "../../project/here";
import { useWaiting } from "../../project/outbox";
import { useGonePlace } from "../../project/places";
import { among, usePlay } from "../../project/play";
import { useMayCode, useProject } from "../../project/project";
import { useSession } from "../../project/session";
import { Button } from "../../ui/Button";
import { Empty, Loading, Problem } from "../../ui/Empty";
import { useStable } from "../../ui/stable";
import { CardList } from "../cards/Cards";
import { type DeskDocument, type Passage, type Span, type Stretch, useCodingWrites, useDocument } from "../data";
import { clock } from "../media/clock";
import { timesOf } from "../media/lanes";
import { PicturePanel, pageAt } from "../media/PicturePanel";
import { Player } from "../media/Player";
import { hundredths } from "../media/spans";
import type { Region } from "../regions";
import { TypingDesk } from "../typing/TypingDesk";
import { TypingKeys } from "../typing/TypingKeys";
import { Codebook } from "./Codebook";
import { CodingLine, type Line } from "./CodingLine";
import { DeskHeader } from "./DeskHeader";
import { type EndMove, movedEnds } from "./ends";
import { ofCoder, useInScope, useNoted } from "./Notes";
import { proposedFor } from "./Proposed";
import { useApply, useWithWaiting } from "./putting";
import { drawnIn, wordsOf } from "./selection";
import { SLIM, Transcript } from "./Transcript";
import { useWidth } from "./width";

/** The reading desk: the text, its passages, the coding line and the codebook. */
export function Desk() {
	const project = useProject();
	const navigate = useNavigate();
	const documents = useDocuments();
	const codebook = useCodebook();
	const wanted = useParams().documentId;
	const play = usePlay();
	const inPlay = useMemo(() => among(documents.data ?? [], play.documents, (row) => row.id).map((row) => row.id), [documents.data, play]);
	const first = play.known ? (inPlay[0] ?? documents.data?.[0]?.id ?? null) : null;
	const id = wanted ? Number(wanted) : first;
	const read = useDocument(id);
	const document = { error: read.error, data: useWithWaiting(read.data) };
	useEffect(() => {
		if (!wanted && first !== null) navigate(String(first), { replace: true });
	}, [wanted, first, navigate]);
	useGonePlace(documents.data?.every((row) => row.id !== id) === true);
	if (documents.data?.length === 0)
		return (
			<Empty title={say("Nothing to read yet")}>
				<p>{say("Bring in a transcript first; then select words and give them a code.")}</p>
				<Link
					to={`/projects/${project.id}/gather/bring-in`}
					className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-on-spruce"
				>
					{say("Bring in files")}
				</Link>
			</Empty>
		);
	const error = document.error ?? codebook.error ?? documents.error;
	// What was read stays on the screen when reading it again fails: nobody loses their place by that.
	if (document.error instanceof ApiError && document.error.status === 404 && documents.data) return <GoneDocument error={document.error} />;
	if (error && !(document.data && codebook.data && documents.data)) return <Problem error={error} />;
	if (!document.data || !codebook.data || !documents.data) return <Loading what={say("the document")} />;
	return <OpenDesk key={document.data.id} document={document.data} codes={codebook.data.codes} pins={codebook.data.pins} order={inPlay} />;
}

/** An address of a document that somebody has deleted: why it can’t be read, and the way on. */
function GoneDocument({ error }: { error: Error }) {
	const { id } = useProject();
	return (
		<Empty title={say("This document isn’t here any more")}>
			<p role="alert">{error.message}</p>
			<Link to={`/projects/${id}/code`} className="inline-block rounded-md bg-spruce px-3 py-1.5 font-semibold text-on-spruce">
				{say("Read the others")}
			</Link>
		</Empty>
	);
}

function OpenDesk({
	document: whole,
	codes,
	pins,
	order,
}: {
	document: DeskDocument;
	codes: Code[];
	pins: { key: number; code: number }[];
	order: number[];
}) {
	const mayCode = useMayCode();
	const [params, address] = useAddress();
	const coder = Number(params.get("coder")) || null;
	const scoped = useInScope(whole, params.get("all") === "1");
	const document = useMemo(() => ofCoder(scoped, coder), [scoped, coder]);
	const [selection, setSelection] = useState<Stretch | null>(() => pointedAt(document, params.get("at")));
	// What waits to be saved has no address yet.
	const [active, setActive] = useRested<number | null>(
		Number(params.get("passage")) || null,
		(id) => (id ?? 0) >= 0 && address({ passage: id === null ? null : String(id), at: null }),
	);
	const pointed = document.passages.find((passage) => passage.id === active);
	const [recent, noteRecent] = useRecent(codes);
	const [side, setSide] = useHere(say("codes beside"), window.innerWidth >= 900);
	const showKeys = useShowKeys();
	// The text first; the codebook beside it may take a moment longer.
	const [settled, setSettled] = useState(false);
	useEffect(() => startTransition(() => setSettled(true)), []);
	// Whoever comes here reads: the keys are the text's at once, unless somebody is typing elsewhere.
	useEffect(() => {
		if (!window.document.activeElement?.closest("input, textarea, [role=dialog]")) text.current?.focus({ preventScroll: true });
	}, []);
	const line = useRef<Line>(null);
	const text = useRef<HTMLDivElement>(null);
	const width = useWidth(text);
	const player = useRef<HTMLMediaElement>(null);
	const [playing, setPlaying] = useState<number | null>(null);
	const [page, setPage] = useState(() => pointed?.region?.page ?? 1);
	const [region, setRegion] = useState<Region | null>(null);
	const [span, setSpan] = useState<Partial<Span> | null>(null);
	const worded = useMemo(
		() => ({ ...document, passages: document.passages.filter((passage) => !passage.region && !passage.span) }),
		[document],
	);
	const words = useMemo(() => wordsOf(document.text), [document.text]);
	const wordless = document.text.trim() === "";
	const recorded = document.kind === "recording";
	// A recording mostly without words is there to be typed; one with words, where somebody asks for it. Whoever types isn’t shown out.
	const untyped = document.turns.filter((turn) => turn.words === 0).length > document.turns.length / 2;
	const begun = useRef(false);
	const typing = recorded && mayCode && (params.get("typing") === "1" || (params.get("typing") !== "0" && (untyped || begun.current)));
	begun.current = typing;
	const shows = document.pages > 0 || document.media.some((medium) => medium.role === "picture");
	const apply = useApply(document);
	const { waiting, lost } = useWaiting();
	const { move } = useCodingWrites();
	const me = useSession().data?.account?.id;
	const mine = useCallback((passage: Passage) => passage.id > 0 && passage.codings.some((coding) => coding.coder === me), [me]);
	const [notes, setNotes] = useAddressed("notes", "all");
	const noted = useNoted(notes);
	const roster = useRoster().data;
	const facts = useMemo(() => factsByCase(roster), [roster]);

	const marked =
		span?.begin !== undefined && span.finish !== undefined ? { begin: hundredths(span.begin), finish: hundredths(span.finish) } : null;
	const place = region ? { region } : marked ? { span: marked } : selection;
	const leave = () => {
		setSelection(null);
		setRegion(null);
		setSpan(null);
		text.current?.focus({ preventScroll: true });
	};
	const takeUp = (passage: Passage) => {
		setActive(passage.id);
		setSelection(null);
		setRegion(passage.region);
		setSpan(passage.span);
	};
	/** To the coding line, with a key that was meant for it. */
	const type = (key?: KeyboardEvent) => {
		line.current?.focus();
		if (key) line.current?.press(key);
	};
	const put = (codeIds: number[], newNames: string[] = []) => {
		if (!place || !mayCode || codeIds.length + newNames.length === 0) return;
		// First of all: what is asked before anything changes on screen is on its way while that is drawn.
		apply({
			...place,
			codes: codeIds,
			newCodes: newNames.map((name) => ({ name, parent: null })),
		});
		noteRecent(codeIds, newNames);
		leave();
	};
	const turnSide = useStable(() => setSide(!side));
	const putOne = useStable((id: number) => place && put([id]));
	const stretch = (passage: Passage, to: Stretch) =>
		move.mutate({
			passage: passage.id,
			start: document.positions.toCodePoints(to.start),
			end: document.positions.toCodePoints(to.end),
		});
	const participants = new Set(document.speakers.filter((speaker) => speaker.role === "participant").map((speaker) => speaker.id));
	const held = document.passages.find((passage) => passage.id === active);
	const stretched = held && !held.region && !held.span && mayCode && mine(held) ? held : undefined;
	const moveEnds = (how: EndMove) => {
		const to = stretched && movedEnds(document.text, document.turns, words, stretched, how);
		if (!to) return;
		setSelection(to);
		stretch(stretched, to);
	};
	const heldSpan = held ? (held.span ?? timesOf(document, held)) : selection && timesOf(document, selection);
	const pictures = shows && (
		<PicturePanel
			document={document}
			codes={codes}
			page={page}
			onPage={setPage}
			marked={region && !document.passages.some((passage) => passage.id === active && passage.region) ? region : null}
			active={active}
			mine={mine}
			onMark={(next) => {
				setRegion(next);
				setSelection(null);
				setActive(null);
			}}
			onActive={(id) => {
				const passage = document.passages.find((one) => one.id === id);
				if (passage) takeUp(passage);
			}}
			onMove={(passage, to) => {
				setRegion(to);
				move.mutate({ passage: passage.id, region: to });
			}}
			onType={type}
		/>
	);
	const beside = shows && !wordless;
	return (
		<div
			className={`relative grid filling grid-rows-[auto_minmax(0,1fr)] ${beside ? (side ? "cols-[minmax(0,1fr)_minmax(280px,38%)_272px]" : "cols-[minmax(0,1fr)_minmax(280px,45%)]") : side ? "cols-[minmax(0,1fr)_272px]" : "grid-cols-1"}`}
		>
			<DeskHeader
				document={document}
				whole={whole}
				codes={codes}
				order={order}
				notes={notes}
				side={side}
				across={beside}
				onNotes={setNotes}
				onSide={turnSide}
			/>
			<div className="flex min-h-0 min-w-0 flex-col">
				{recorded && (
					<Player
						document={document}
						codes={codes}
						player={player}
						active={active}
						marked={span}
						held={heldSpan}
						turns={selection && timesOf(document, selection)}
						typing={typing}
						{...(mayCode && !typing && { onTyping: () => address({ typing: untyped ? null : "1" }) })}
						mine={mine}
						onMove={(passage, span) => move.mutate({ passage, span })}
						onTurn={setPlaying}
						onMark={(next) => {
							setSpan(next);
							if (next) {
								setSelection(null);
								setActive(null);
							}
							if (next?.finish !== undefined) line.current?.focus();
						}}
						onActive={takeUp}
					/>
				)}
				{pictures && wordless && pictures}
				{typing && <TypingDesk document={document} player={player} playing={playing} onRead={() => address({ typing: "0" })} />}
				{wordless && !pictures && !typing && (
					<p className="flex items-center gap-3 p-4 quiet-line">
						{recorded
							? say("No text belongs to this recording yet.")
							: say("There are no words in this document; what it shows stands beside.")}
						{recorded && mayCode && (
							<Button look="main" onClick={() => address({ typing: null })}>
								{say("Type it, or bring it")}
							</Button>
						)}
					</p>
				)}
				{!typing && (!wordless || !pictures) && (
					<Transcript
						ref={text}
						playing={playing}
						width={width}
						onPlay={(begin) => {
							if (!player.current) return;
							player.current.currentTime = begin;
							void player.current.play();
						}}
						document={worded}
						codes={codes}
						facts={facts}
						selection={selection}
						active={active}
						onActive={setActive}
						onSelect={(stretch, byMouse) => {
							setSelection(stretch);
							setRegion(null);
							setSpan(null);
							if (stretch && document.pages) setPage(pageAt(document, stretch.start));
							if (stretch && byMouse && mayCode) line.current?.focus();
						}}
						onType={type}
						noted={noted}
						mine={mine}
						onStretch={stretch}
						onEnds={moveEnds}
						words={words}
						onDropCode={(code, stretch) => mayCode && apply({ ...stretch, codes: [code], newCodes: [] })}
					/>
				)}
				<div hidden={typing} className="z-20 shrink-0 bg-card flow:tall:sticky flow:tall:bottom-0 print:hidden">
					{width < SLIM && held && (
						<div className="max-h-60 overflow-auto border-t border-line px-3 py-1.5">
							<CardList
								name={say("The passage in hand")}
								passages={[held]}
								codes={codes}
								active={active}
								placeOf={() => ""}
								onActive={takeUp}
							/>
						</div>
					)}
					{mayCode && !typing && (
						<CodingLine
							line={line}
							codes={codes}
							pins={pins}
							recent={recent}
							words={selection && !region && !span ? document.text.slice(selection.start, selection.end) : place ? "" : null}
							chosen={region ? say("1 region") : marked ? `${clock(marked.begin)}–${clock(marked.finish)}` : undefined}
							placeholder={wordless && pictures ? say("Draw a region of the picture, then type a code") : undefined}
							proposed={proposedFor(document, selection)}
							saving={
								lost
									? say("{codings, plural, one {# coding} other {# codings}} not saved yet", { codings: waiting.length })
									: waiting.length
										? say("Saving …")
										: ""
							}
							onPut={put}
							onLeave={leave}
							onEnds={stretched && moveEnds}
							onKeys={showKeys}
							onTurn={
								wordless
									? undefined
									: () => {
											const turn = document.turns.find((one) => participants.has(one.speaker));
											if (turn)
												setSelection({
													start: turn.start,
													end: turn.start + document.text.slice(turn.start, turn.end).trimEnd().length,
												});
										}
							}
						/>
					)}
				</div>
			</div>
			{!wordless && pictures && <div className="flex min-h-0">{pictures}</div>}
			{side && (
				<div
					className={`min-h-0 min-w-0 border-l border-line bg-card grid grid-cols-[minmax(0,1fr)] print:hidden ${beside ? "min-[720px]:col-start-3" : "min-[720px]:col-start-2"} min-[720px]:row-span-2 min-[720px]:row-start-1`}
				>
					{typing ? <TypingKeys /> : settled && <Codebook codes={codes} pins={pins} onCode={putOne} selecting={place !== null} />}
				</div>
			)}
		</div>
	);
}

/** The word that a link into the text points at (a code point, as on the wire). */
function pointedAt(document: DeskDocument, at: string | null): Stretch | null {
	if (at === null || !Number.isFinite(Number(at))) return null;
	const start = document.positions.toUnits(Math.min(Number(at), document.text.length));
	return drawnIn(document.text, start, start + (/^\S+/.exec(document.text.slice(start))?.[0].length ?? 1));
}

/** For each case, its first few values in words, for the margin of the text. */
function factsByCase(roster: ReturnType<typeof useRoster>["data"]): Map<number, string[]> {
	const variables = (roster?.variables ?? []).filter((variable) => variable.kind !== "text");
	return new Map(
		(roster?.cases ?? []).map((row) => [
			row.id,
			variables.map((variable) => {
				const value = row.values[variable.id];
				return `${variable.name}: ${value?.text || reasonOf(value?.missing ?? variable.when_empty)}`;
			}),
		]),
	);
}
