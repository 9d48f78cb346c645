import { useQuery } from "@tanstack/react-query";
import { Redo2, Undo2 } from "lucide-react";
import { useEffect } from "react";
import { Link, Outlet, useLocation, useParams } from "react-router";
import { AccountMenu } from "../accounts/AccountMenu";
import { Codings } from "../coding/desk/putting";
import { Uploads } from "../gather/Uploading";
import { KeysOver } from "../help/Keys";
import { say } from "../language/say";
import { useAskBeforeLeaving } from "../project/draft";
import { capOf, usePageKeys } from "../project/keys";
import { useMoves } from "../project/moves";
import { usePlace, useRememberPlaces } from "../project/places";
import { ProjectContext, useProject, useStatus, useUndo } from "../project/project";
import { readProject } from "../project/reads";
import { useKeptScope } from "../project/scope";
import { onCopy } from "../ui/copying";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { Mark } from "../ui/Mark";
import { Mishap } from "../ui/Mishap";
import { useTitle } from "../ui/title";
import { number } from "../ui/words";
import { Connection } from "./Connection";
import { FindAnything } from "./FindAnything";
import { FirstSteps } from "./FirstSteps";
import { Jobs } from "./Jobs";
import { ScopeLine } from "./ScopeLine";
import { useScrollsKept } from "./scrolls";
import { Arrivals, NotSaved } from "./Together";
import { viewAt } from "./views";

/** What surrounds every page of a project: the top bar and the scope line. */
export function Frame() {
	const id = Number(useParams().projectId);
	useKeptScope();
	useMoves(id);
	useRememberPlaces();
	useAskBeforeLeaving();
	useScrollsKept();
	useTablesCopied();
	const project = useQuery(readProject(id));
	const { pathname } = useLocation();
	useTitle(viewAt(pathname), project.data?.name ?? "");
	const hindered = hindrance(project);
	if (hindered) return <Problem error={hindered} />;
	if (!project.data)
		return (
			<>
				<Connection />
				<Loading what={say("the project")} />
			</>
		);
	return (
		<ProjectContext value={project.data}>
			<KeysOver>
				<div className="flex h-screen flex-col flow:h-auto flow:min-h-screen">
					<SkipToPage />
					<TopBar />
					<ScopeLine />
					<FirstSteps />
					<Codings />
					<Uploads />
					<NotSaved />
					<main id="page" tabIndex={-1} className="min-h-0 flex-1 focus:outline-none">
						<h1 className="sr-only">{viewAt(pathname)}</h1>
						<Mishap at={pathname}>
							<Outlet />
						</Mishap>
					</main>
				</div>
			</KeysOver>
		</ProjectContext>
	);
}

/** By keyboard past the bar and the scope, to what the page is about (WCAG 2.4.1). */
function SkipToPage() {
	return (
		<a
			href="#page"
			className="sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-50 focus:rounded-md focus:border focus:border-spruce focus:bg-card focus:px-3 focus:py-1.5 focus:font-semibold"
		>
			{say("Skip to the page")}
		</a>
	);
}

/** Whatever table is selected and copied, figures come out one by one. */
function useTablesCopied() {
	useEffect(() => {
		document.addEventListener("copy", onCopy);
		return () => document.removeEventListener("copy", onCopy);
	}, []);
}

function TopBar() {
	const project = useProject();
	const status = useStatus().data;
	const place = usePlace(project.id);
	const steps = [
		{ to: "gather", label: say("Gather"), figure: status?.documents, says: say("documents") },
		{ to: "people", label: say("People"), figure: status?.linked_cases, says: say("{many} linked", { many: project.case_many }) },
		{ to: "code", label: say("Code", undefined, "step"), figure: status?.codings, says: say("codings") },
		{ to: "compare", label: say("Compare"), figure: status?.comparisons, says: say("comparisons kept") },
		{ to: "report", label: say("Report"), figure: status?.exhibits, says: say("exhibits") },
	];
	return (
		<header className="flex min-h-13 shrink-0 flex-wrap items-center gap-x-4 border-b border-line bg-card px-4.5 max-[720px]:px-3 print:hidden">
			<Link to="/" className="flex items-center gap-2.5 font-serif text-lg font-semibold" title={say("All projects")}>
				<Mark />
				{say("Cohortia")}
			</Link>
			<span className="max-w-56 min-w-0 truncate border-l border-line pl-3.5 font-medium text-quiet" title={project.name}>
				{project.name}
			</span>
			<nav
				aria-label={say("Steps")}
				className="flex h-13 max-[900px]:order-last max-[900px]:h-9 max-[900px]:w-full max-[560px]:h-auto max-[560px]:flex-wrap max-[560px]:justify-between"
			>
				{steps.map((step) => (
					<Link
						key={step.to}
						to={place.step(step.to)}
						aria-current={place.within(step.to) ? "page" : undefined}
						title={step.figure === undefined ? undefined : `${step.figure} ${step.says}`}
						className={`flex items-center gap-1.5 border-y-3 border-t-transparent px-3.5 font-semibold max-[560px]:px-0.5 max-[560px]:py-1 max-[360px]:text-[12.8px] ${place.within(step.to) ? "border-b-spruce text-spruce" : "border-b-transparent text-quiet hover:text-ink"}`}
					>
						{step.label}{" "}
						<span className="text-xs font-medium max-[560px]:hidden">
							{step.figure === undefined || step.figure === null ? "" : number(step.figure)}
						</span>
					</Link>
				))}
			</nav>
			<div className="ml-auto flex min-w-0 flex-wrap items-center justify-end gap-2">
				<Arrivals />
				<Jobs />
				<FindAnything />
				<UndoButtons />
				<AccountMenu projectId={project.id} />
			</div>
		</header>
	);
}

function UndoButtons() {
	const status = useStatus().data;
	const { undo, redo } = useUndo();
	usePageKeys(
		{ undo: () => undo.mutate(undefined), redo: () => redo.mutate(undefined) },
		// Inside a field with text, the key takes back typing as everywhere.
		({ target }) => (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) && target.value !== "",
	);
	return (
		<>
			<button
				type="button"
				aria-label={say("Undo")}
				title={status?.undo ? say("Undo: {undo} ({key})", { undo: status.undo, key: capOf("undo") }) : say("Nothing to undo")}
				disabled={!status?.undo}
				onClick={() => undo.mutate(undefined)}
				className="rounded p-1 text-quiet hover:text-ink disabled:opacity-40"
			>
				<Undo2 size={17} />
			</button>
			<button
				type="button"
				aria-label={say("Redo")}
				title={status?.redo ? say("Redo: {redo} ({key})", { redo: status.redo, key: capOf("redo") }) : say("Nothing to redo")}
				disabled={!status?.redo}
				onClick={() => redo.mutate(undefined)}
				className="rounded p-1 text-quiet hover:text-ink disabled:opacity-40"
			>
				<Redo2 size={17} />
			</button>
		</>
	);
}
