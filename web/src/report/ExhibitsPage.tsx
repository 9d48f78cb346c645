import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useThemes } from "../coding/overview";
import { useExhibit, useExhibits, useExhibitWrites } from "../evidence/data";
import { NewExhibit } from "../evidence/ExhibitMenu";
import { phrase, say } from "../language/say";
import { useGonePlace } from "../project/places";
import { useMayCode, useProject } from "../project/project";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Empty, hindrance, Loading, Problem } from "../ui/Empty";
import { useToasts } from "../ui/toasts";
import { PieceCard } from "./PieceCard";
import { ReportPages } from "./ReportPages";

/** Exhibits: an ordered choice of passages for an audience; the first to begin with. */
export function ExhibitsPage() {
	const { id } = useProject();
	const mayCode = useMayCode();
	const navigate = useNavigate();
	const named = Number(useParams().exhibitId) || null;
	const list = useExhibits();
	const [making, setMaking] = useState(false);
	useGonePlace(named !== null && list.data?.every((one) => one.id !== named) === true);
	const hindered = hindrance(list);
	if (hindered) return <Problem error={hindered} />;
	if (!list.data) return <Loading what={say("the exhibits")} />;
	const chosen = named === null ? list.data[0] : list.data.find((one) => one.id === named);
	const made = (exhibit?: number) => {
		setMaking(false);
		if (exhibit) void navigate(`/projects/${id}/report/exhibits/${exhibit}`);
	};
	return (
		<div className="filling pane px-4.5 py-3.5">
			<div className="flex flex-wrap items-center gap-y-1">
				<ReportPages />
				{mayCode && (
					<span className="ml-auto">
						<Button onClick={() => setMaking(true)}>{say("New exhibit")}</Button>
					</span>
				)}
			</div>
			{making && <NewExhibit passages={[]} query={undefined} onClose={made} />}
			{list.data.length === 0 ? (
				<Empty title={say("No exhibit yet")}>
					<p>
						{phrase(
							"An exhibit is a choice of passages for an audience. Wherever passages are read, “Exhibit” puts one in. <link>Compare, and open a number</link>",
							{
								link: (inner) => (
									<Link className="font-semibold text-spruce underline" to={`/projects/${id}/compare`}>
										{inner}
									</Link>
								),
							},
						)}
					</p>
				</Empty>
			) : (
				<div className="mt-3 grid cols-[230px_minmax(0,1fr)] gap-5">
					<ul aria-label={say("Exhibits")}>
						{list.data.map((one) => (
							<li key={one.id} className="border-b border-line2">
								<Link
									to={`/projects/${id}/report/exhibits/${one.id}`}
									aria-current={one.id === chosen?.id ? "page" : undefined}
									className={`block rounded px-2 py-1.5 ${one.id === chosen?.id ? "bg-spruce-soft" : "hover:bg-paper2"}`}
								>
									<b className="font-semibold">{one.name}</b>
									<span className="block text-[12.6px] text-quiet">
										{say("{passages, plural, one {# passage} other {# passages}}", { passages: one.size })}
										{one.audience && say(", for {audience}", { audience: one.audience })}
									</span>
								</Link>
							</li>
						))}
					</ul>
					{chosen ? (
						<One key={chosen.id} id={chosen.id} />
					) : (
						<p className="quiet-line">{say("This exhibit isn’t here any more; somebody has deleted it.")}</p>
					)}
				</div>
			)}
		</div>
	);
}

function One({ id }: { id: number }) {
	const project = useProject();
	const mayCode = useMayCode();
	const navigate = useNavigate();
	const found = useExhibit(id);
	const questions = useThemes().data?.questions ?? [];
	const { change, remove } = useExhibitWrites();
	const { tell } = useToasts();
	const hindered = hindrance(found);
	if (hindered) return <Problem error={hindered} />;
	if (!found.data) return <Loading what={say("the exhibit")} />;
	const { name, audience, question, pieces } = found.data;
	const order = pieces.map((one) => one.id);
	const move = (at: number, to: number) => {
		const next = [...order];
		next.splice(to, 0, ...next.splice(at, 1));
		change.mutate({ exhibit_id: id, pieces: next });
	};
	const removed = () => {
		tell(say("“{name}” is deleted. Ctrl Z brings it back.", { name }));
		void navigate(`/projects/${project.id}/report`);
	};
	return (
		<section aria-label={name}>
			<div className="flex flex-wrap items-center gap-2.5">
				{mayCode ? (
					<Line
						key={name}
						label={say("Name of the exhibit")}
						value={name}
						look="font-serif text-[19px] font-semibold w-80"
						onKeep={(next) => change.mutate({ exhibit_id: id, name: next })}
					/>
				) : (
					<h2 className="title text-[19px]!">{name}</h2>
				)}
				<span className="ml-auto flex items-baseline gap-2 text-[13px] text-quiet">
					{say("Take it out as")}
					{["docx", "md"].map((ending) => (
						<a
							key={ending}
							className="font-semibold text-spruce hover:underline"
							href={`/api/projects/${project.id}/exhibits/${id}/file/${ending}`}
							download
						>
							.{ending}
						</a>
					))}
				</span>
				{mayCode && <Button onClick={() => remove.mutate(id, { onSuccess: removed })}>{say("Delete")}</Button>}
			</div>
			<p className="mt-1 mb-3 flex flex-wrap items-center gap-1 text-[13.4px] text-quiet">
				{say("For")}
				{mayCode ? (
					<Line
						key={audience}
						label={say("For whom")}
						value={audience}
						look="min-w-24 max-w-96 [field-sizing:content]"
						empty={say("whom?")}
						onKeep={(next) => change.mutate({ exhibit_id: id, audience: next })}
					/>
				) : (
					audience || say("nobody named")
				)}
				{say("· answers")}
				<Choice
					as="small"
					name={say("Research question")}
					value={question ?? 0}
					disabled={!mayCode}
					options={[{ value: 0, label: say("no question") }, ...questions.map((one) => ({ value: one.id, label: one.text }))]}
					onChange={(next) => change.mutate({ exhibit_id: id, question: next || null })}
				/>
			</p>
			<ol className="max-w-6xl space-y-2.5">
				{pieces.map((piece, at) => (
					<PieceCard
						key={piece.id}
						exhibit={id}
						piece={piece}
						number={at + 1}
						onUp={at > 0 ? () => move(at, at - 1) : undefined}
						onDown={at < pieces.length - 1 ? () => move(at, at + 1) : undefined}
					/>
				))}
			</ol>
			{pieces.length === 0 && (
				<p className="quiet-line">{say("Nothing is shown yet. Wherever passages are read, “Exhibit” puts one in.")}</p>
			)}
		</section>
	);
}

interface LineProps {
	label: string;
	value: string;
	look: string;
	empty?: string;
	onKeep: (next: string) => void;
}

/** A line that is kept when it is left. */
function Line({ label, value, look, empty, onKeep }: LineProps) {
	const [text, setText] = useState(value);
	return (
		<input
			aria-label={label}
			className={`rounded-md border border-transparent bg-transparent px-1.5 py-0.5 text-ink hover:border-line focus:border-line focus:bg-card ${look}`}
			placeholder={empty}
			maxLength={160}
			value={text}
			onChange={(event) => setText(event.target.value)}
			onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
			onBlur={() => {
				if (text.trim() !== value && (text.trim() || empty)) onKeep(text.trim());
				else setText(value);
			}}
		/>
	);
}
