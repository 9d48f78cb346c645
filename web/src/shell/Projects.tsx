import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { AccountMenu } from "../accounts/AccountMenu";
import { api, take } from "../api/client";
import { say } from "../language/say";
import { decides, roleOf } from "../project/roles";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { Mark } from "../ui/Mark";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { useTitle } from "../ui/title";
import { counted } from "../ui/words";
import { BringProject } from "./BringProject";

export function Projects() {
	const projects = useQuery({ queryKey: ["projects"], queryFn: () => take(api.GET("/api/projects")) });
	const mayBegin = useSession().data?.may_begin ?? false;
	const [open, setOpen] = useState<"new" | "file" | null>(null);
	useTitle(say("Your projects"));
	const hindered = hindrance(projects);
	if (hindered) return <Problem error={hindered} />;
	if (!projects.data) return <Loading what={say("your projects")} />;
	return (
		<>
			<header className="flex h-13 items-center gap-2.5 border-b border-line bg-card px-4.5">
				<Mark />
				<span className="font-serif text-lg font-semibold">{say("Cohortia")}</span>
				<span className="ml-auto" />
				<AccountMenu />
			</header>
			<main className="mx-auto max-w-3xl p-8">
				<div className="mb-4 flex items-center">
					<h1>{say("Your projects")}</h1>
					<span className="ml-auto flex gap-2">
						{mayBegin ? (
							<>
								<Button onClick={() => setOpen("file")}>{say("Bring in a project")}</Button>
								<Button look="main" onClick={() => setOpen("new")}>
									{say("New project")}
								</Button>
							</>
						) : (
							<span className="quiet-line">{say("An owner can allow you to begin projects of your own.")}</span>
						)}
					</span>
				</div>
				<ul className="space-y-2">
					{projects.data.map((project) => (
						<li key={project.id}>
							<Link to={`/projects/${project.id}`} className="block rounded-lg border border-line bg-card px-4 py-3 hover:border-spruce">
								<span className="font-serif text-[17px] font-semibold">{project.name}</span>
								<span className="ml-3 quiet-line">
									{decides(project.role) ? say("you are an owner") : say("you are a {role}", { role: roleOf(project.role) })}
								</span>
								<span className="block quiet-line">
									{say(
										"{documents, plural, one {# document} other {# documents}} · {cases} · {codes, plural, one {# code} other {# codes}}",
										{
											documents: project.documents,
											cases: counted(project.cases, project.case_one, project.case_many),
											codes: project.codes,
										},
									)}
								</span>
							</Link>
						</li>
					))}
				</ul>
				{projects.data.length === 0 && <p className="quiet-line">{say("No project yet. Make one, and bring in a first transcript.")}</p>}
			</main>
			{open === "new" && <NewProject onClose={() => setOpen(null)} />}
			{open === "file" && <BringProject onClose={() => setOpen(null)} />}
		</>
	);
}

function NewProject({ onClose }: { onClose: () => void }) {
	const client = useQueryClient();
	const navigate = useNavigate();
	const [name, setName] = useState("");
	const [one, setOne] = useState("person");
	const [many, setMany] = useState("people");
	const make = useMutation({
		mutationFn: () => take(api.POST("/api/projects", { body: { name, case_one: one, case_many: many } })),
		onSuccess: (project) => {
			void client.invalidateQueries({ queryKey: ["projects"] });
			navigate(`/projects/${project.id}/gather`);
		},
	});
	const refused = useRefused(make.error);
	return (
		<Modal title={say("New project")} onClose={onClose}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					make.mutate();
				}}
			>
				<label className="block font-semibold">
					{say("Name")}
					<input
						className="field mt-1 w-full font-normal"
						required
						value={name}
						onChange={(event) => setName(event.target.value)}
						{...refused.field}
					/>
				</label>
				<div className="grid cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3">
					<label className="block font-semibold">
						{say("One case is a")}
						<input className="field mt-1 w-full font-normal" required value={one} onChange={(event) => setOne(event.target.value)} />
					</label>
					<label className="block font-semibold">
						{say("Several are")}
						<input className="field mt-1 w-full font-normal" required value={many} onChange={(event) => setMany(event.target.value)} />
					</label>
				</div>
				<p className="quiet-line">{say("Groups are made of cases: people, households, sites … Every screen uses your word.")}</p>
				{refused.said}
				<Button look="main" type="submit" disabled={make.isPending}>
					{say("Make the project")}
				</Button>
			</form>
		</Modal>
	);
}
