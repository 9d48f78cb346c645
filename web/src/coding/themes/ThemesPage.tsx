import { useState } from "react";
import { type Code, useCodebook } from "../../codes/data";
import { branches, flat } from "../../codes/tree";
import { say } from "../../language/say";
import { MemosOn } from "../../memos/MemosOn";
import { useAddress } from "../../project/address";
import { useDraft } from "../../project/draft";
import { useMayCode, useProject } from "../../project/project";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { hindrance, Loading, Problem } from "../../ui/Empty";
import { codeColour } from "../../ui/palette";
import { counted } from "../../ui/words";
import { CodePages } from "../CodePages";
import { type Question, type Theme, useOverviewWrites, useThemes } from "../overview";
import { ReadingPane } from "../ReadingPane";

/** Research questions, and the themes that answer them: codes drawn together, each placing read against the words. */
export function ThemesPage() {
	const mayCode = useMayCode();
	const themes = useThemes();
	const codebook = useCodebook();
	const { createTheme, createQuestion } = useOverviewWrites();
	const [params, set] = useAddress();
	const [name, setName] = useState("");
	const [asked, setAsked] = useState("");
	const error = hindrance(themes, codebook);
	if (error) return <Problem error={error} />;
	if (!themes.data || !codebook.data) return <Loading what={say("the themes")} />;
	const { questions, themes: all } = themes.data;
	const codes = codebook.data.codes;
	const open = all.find((theme) => theme.id === Number(params.get("open")));
	const placed = new Set(all.flatMap((theme) => theme.codes));
	const groups: { question: Question | null; themes: Theme[] }[] = [
		...questions.map((question) => ({ question, themes: all.filter((theme) => theme.question === question.id) })),
		{ question: null, themes: all.filter((theme) => theme.question === null) },
	];
	const makeTheme = () => {
		if (name.trim()) createTheme.mutate({ name: name.trim() }, { onSuccess: () => setName("") });
	};
	const ask = () => {
		if (asked.trim()) createQuestion.mutate(asked.trim(), { onSuccess: () => setAsked("") });
	};
	return (
		<div className="flex filling min-h-0 flex-col px-4.5 pt-3">
			<div className="mb-2 flex flex-wrap items-center gap-3">
				<CodePages figures={{ "code/themes": String(all.length) }} />
				{mayCode && (
					<span className="ml-auto flex flex-wrap items-center gap-2 print:hidden">
						<input
							aria-label={say("New research question")}
							placeholder={say("What do you want to know?")}
							className="field w-64"
							value={asked}
							onChange={(event) => setAsked(event.target.value)}
							onKeyDown={(event) => event.key === "Enter" && ask()}
						/>
						<Button disabled={!asked.trim()} onClick={ask}>
							{say("Add the question")}
						</Button>
						<input
							aria-label={say("New theme")}
							placeholder={say("A theme’s name")}
							className="field w-44"
							value={name}
							onChange={(event) => setName(event.target.value)}
							onKeyDown={(event) => event.key === "Enter" && makeTheme()}
						/>
						<Button look="main" disabled={!name.trim()} onClick={makeTheme}>
							{say("Add the theme")}
						</Button>
					</span>
				)}
			</div>
			<div className="grid min-h-0 flex-1 cols-[200px_minmax(0,1fr)_minmax(280px,32%)] gap-4">
				<CodeList codes={codes} placed={placed} />
				<div className="pane pb-4">
					{groups
						.filter((group) => group.question || group.themes.length)
						.map((group) => (
							<section key={group.question?.id ?? 0} className="mb-4">
								{group.question ? (
									<AskedQuestion question={group.question} />
								) : (
									<h2 className="mb-1.5">{say("Tied to no question yet")}</h2>
								)}
								{group.themes.length === 0 && <p className="quiet-line">{say("No theme answers it yet. Make one, or tie one to it.")}</p>}
								<div className="grid gap-2.5">
									{group.themes.map((theme) => (
										<ThemeCard
											key={theme.id}
											theme={theme}
											codes={codes}
											questions={questions}
											open={open?.id === theme.id}
											onOpen={() => set({ open: open?.id === theme.id ? null : String(theme.id) })}
										/>
									))}
								</div>
							</section>
						))}
					{!all.length && !questions.length && (
						<div className="rounded-lg border border-line bg-card p-4">
							<h2>{say("No themes yet")}</h2>
							<p className="mt-1">
								{say(
									"Begin from either side. From your questions: write one above, make a theme for it and draw codes in. From the codes: make a theme, drag the codes that belong together into it, and say in a sentence what they say together.",
								)}
							</p>
						</div>
					)}
				</div>
				<aside aria-label={say("Passages of the theme")} className="pane rounded-t-lg border border-b-0 border-line bg-card p-3.5">
					{open ? (
						<>
							<div className="mb-1 flex items-start gap-2">
								<h2 className="flex-1 font-serif">{open.name}</h2>
								<MemosOn on="theme" id={open.id} name={open.name} />
							</div>
							{open.statement && <p className="mb-2">{open.statement}</p>}
							<ReadingPane of="theme" which={open.id} />
						</>
					) : (
						<p className="quiet-line">{say("Choose a theme to read all its passages, person by person: does each belong there?")}</p>
					)}
				</aside>
			</div>
		</div>
	);
}

/** All codes, to be dragged into themes; those in none stand out. */
function CodeList({ codes, placed }: { codes: Code[]; placed: Set<number> }) {
	const mayCode = useMayCode();
	const rows = flat(branches(codes)).filter(({ code }) => !code.parked);
	const free = rows.filter(({ code }) => !placed.has(code.id) && code.passages > 0).length;
	return (
		<aside
			// biome-ignore lint/a11y/noNoninteractiveTabindex: a long list is scrolled by key
			tabIndex={0}
			aria-label={say("Codes to draw in")}
			className="pane rounded-t-lg border border-b-0 border-line bg-card p-2 text-[13px]"
		>
			<p className="mb-1 px-1 quiet-line">
				{free
					? say("{codes, plural, one {# code} other {# codes}} with passages {codes, plural, one {is} other {are}} in no theme", {
							codes: free,
						})
					: say("Every code with passages is in a theme")}
			</p>
			{rows.map(({ code, depth }) => (
				// biome-ignore lint/a11y/noStaticElementInteractions: each theme’s card draws codes in by keyboard
				<div
					key={code.id}
					draggable={mayCode}
					onDragStart={(event) => event.dataTransfer.setData("application/x-code", String(code.id))}
					className={`flex items-center gap-1.5 rounded px-1 py-0.5 ${mayCode ? "cursor-grab hover:bg-paper2" : ""} ${placed.has(code.id) ? "text-quiet" : ""}`}
					style={{ paddingLeft: 4 + depth * 14 }}
					title={placed.has(code.id) ? say("In a theme already; it may serve several") : say("In no theme yet")}
				>
					<span className="size-2.5 shrink-0 rounded-[3px]" style={{ background: codeColour(code.colour) }} />
					<span className="truncate">{code.name}</span>
					<span className="ml-auto text-xs text-quiet">{code.passages || ""}</span>
				</div>
			))}
		</aside>
	);
}

function AskedQuestion({ question }: { question: Question }) {
	const mayCode = useMayCode();
	const { changeQuestion, deleteQuestion } = useOverviewWrites();
	const [text, setText] = useState(question.text);
	return (
		<div className="mb-1.5 flex items-center gap-2">
			<input
				aria-label={say("Research question")}
				disabled={!mayCode}
				className="min-w-0 flex-1 rounded bg-transparent px-1 font-serif text-base font-semibold hover:bg-paper2"
				value={text}
				onChange={(event) => setText(event.target.value)}
				onBlur={() => text.trim() && text !== question.text && changeQuestion.mutate({ id: question.id, text })}
				onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
			/>
			{mayCode && (
				<button
					type="button"
					aria-label={say("Delete the question {text}", { text: question.text })}
					title={say("Delete; its themes stay, tied to none. Undo brings it back")}
					className="sign text-quiet hover:text-danger"
					onClick={() => deleteQuestion.mutate(question.id)}
				>
					×
				</button>
			)}
		</div>
	);
}

function ThemeCard({
	theme,
	codes,
	questions,
	open,
	onOpen,
}: {
	theme: Theme;
	codes: Code[];
	questions: Question[];
	open: boolean;
	onOpen: () => void;
}) {
	const project = useProject();
	const mayCode = useMayCode();
	const { changeTheme, deleteTheme } = useOverviewWrites();
	const [said, setSaid] = useDraft(`theme ${theme.id}`, { name: theme.name, statement: theme.statement });
	const [over, setOver] = useState(false);
	const byId = new Map(codes.map((code) => [code.id, code]));
	const save = (part: "name" | "statement") =>
		said[part].trim() !== theme[part] &&
		(part === "statement" || said.name.trim()) &&
		changeTheme.mutate({ id: theme.id, [part]: said[part].trim() });
	const place = (wanted: number[]) => changeTheme.mutate({ id: theme.id, codes: wanted });
	const rest = flat(branches(codes)).filter(({ code }) => !theme.codes.includes(code.id) && !code.parked);
	return (
		<article
			aria-label={say("Theme {name}", { name: theme.name })}
			className={`rounded-lg border bg-card p-3 ${over ? "border-spruce shadow-[0_0_0_2px_var(--color-halo)]" : open ? "border-spruce" : "border-line"}`}
			onDragOver={(event) => {
				if (!mayCode || !event.dataTransfer.types.includes("application/x-code")) return;
				event.preventDefault();
				setOver(true);
			}}
			onDragLeave={() => setOver(false)}
			onDrop={(event) => {
				setOver(false);
				const code = Number(event.dataTransfer.getData("application/x-code"));
				if (code && !theme.codes.includes(code)) place([...theme.codes, code]);
			}}
		>
			<div className="flex items-center gap-2">
				<input
					aria-label={say("Name of the theme")}
					disabled={!mayCode}
					className="min-w-0 flex-1 rounded px-1 text-[15px] font-semibold hover:bg-paper2"
					value={said.name}
					onChange={(event) => setSaid({ ...said, name: event.target.value })}
					onBlur={() => save("name")}
					onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
				/>
				<button
					type="button"
					aria-expanded={open}
					className="shrink-0 text-[13px] font-semibold text-spruce hover:underline"
					onClick={onOpen}
				>
					{open
						? say("Close")
						: say("Read {passages, plural, one {# passage} other {# passages}} by {people}", {
								passages: theme.passages,
								people: counted(theme.people, project.case_one, project.case_many),
							})}
				</button>
				{mayCode && (
					<button
						type="button"
						aria-label={say("Delete the theme {name}", { name: theme.name })}
						title={say("Delete; its codes stay. Undo brings it back")}
						className="sign text-quiet hover:text-danger"
						onClick={() => deleteTheme.mutate(theme.id)}
					>
						×
					</button>
				)}
			</div>
			<textarea
				aria-label={say("What the theme says")}
				placeholder={say("What do these passages say together? One or two sentences.")}
				rows={2}
				disabled={!mayCode}
				dir="auto"
				className="mt-1 w-full resize-y rounded px-1 font-serif leading-snug hover:bg-paper2"
				value={said.statement}
				onChange={(event) => setSaid({ ...said, statement: event.target.value })}
				onBlur={() => save("statement")}
			/>
			<div className="mt-1.5 flex flex-wrap items-center gap-1.5 text-[13px]">
				{theme.codes.map((id) => (
					<span key={id} className="inline-flex items-center gap-1.5 rounded-full border border-line bg-paper py-px pr-2 pl-2">
						<span className="size-2.5 rounded-[3px]" style={{ background: codeColour(byId.get(id)?.colour ?? 0) }} />
						{byId.get(id)?.name}
						{mayCode && (
							<button
								type="button"
								aria-label={say("{name} out of {name2}", { name: byId.get(id)?.name, name2: theme.name })}
								className="sign text-quiet hover:text-danger"
								onClick={() => place(theme.codes.filter((one) => one !== id))}
							>
								×
							</button>
						)}
					</span>
				))}
				{mayCode && (
					<>
						<Choice
							name={say("Draw a code into {name}", { name: theme.name })}
							as="small"
							value={0}
							shown={theme.codes.length ? say("Add a code") : say("Drag codes here, or add one")}
							options={rest.map(({ code, depth }) => ({ value: code.id, label: `${"\u2003".repeat(depth)}${code.name}` }))}
							onChange={(code) => code && place([...theme.codes, code])}
						/>
						<span className="ml-auto">
							<Choice
								name={say("Answers the question")}
								as="small"
								value={theme.question ?? 0}
								options={[{ value: 0, label: say("no question") }, ...questions.map((one) => ({ value: one.id, label: one.text }))]}
								shown={theme.question ? say("its question") : say("tie to a question")}
								onChange={(question) => changeTheme.mutate({ id: theme.id, question: question || null })}
							/>
						</span>
					</>
				)}
			</div>
		</article>
	);
}
