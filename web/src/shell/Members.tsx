import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { Invitations } from "../accounts/Invitations";
import { api, take } from "../api/client";
import { phrase, say } from "../language/say";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { decides, ROLES, type Role, USUAL } from "../project/roles";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { useToasts } from "../ui/toasts";
import { Backups } from "./Backups";
import { Forget } from "./Forget";
import { TakeOut } from "./TakeOut";

export function Members() {
	const project = useProject();
	const owner = decides(project.role);
	const path = { project_id: project.id };
	const members = useQuery(read("members", project.id));
	const change = useWrite(({ id, ...said }: { id: number; role?: Role; may_begin?: boolean }) =>
		take(
			api.PATCH("/api/projects/{project_id}/members/{membership_id}", {
				params: { path: { ...path, membership_id: id } },
				body: said,
			}),
		),
	);
	const mine = useSession().data;
	const remove = useWrite((id: number) =>
		take(
			api.DELETE("/api/projects/{project_id}/members/{membership_id}", {
				params: { path: { ...path, membership_id: id } },
			}),
		),
	);
	const hindered = hindrance(members);
	if (hindered) return <Problem error={hindered} />;
	if (!members.data) return <Loading what={say("members")} />;
	return (
		<div className="mx-auto filling max-w-2xl pane p-8 max-[720px]:p-4">
			<h2 className="title mb-1">{say("Members")}</h2>
			<p className="mb-4 quiet-line">{say("Nobody else sees this project.")}</p>
			<ul className="rounded-lg border border-line bg-card">
				{members.data.map((member) => (
					<li key={member.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line2 px-4 py-2 last:border-0">
						<span className="grid size-7 place-items-center rounded-full bg-spruce-soft text-xs font-bold text-spruce">
							{member.account.initials}
						</span>
						<span className="font-semibold">{member.account.display_name}</span>
						<span className="quiet-line">
							{say("signs in as {username}", { username: member.account.username })}
							{owner && mine?.may_begin && member.account.id !== mine.account?.id && (
								<label className="mt-0.5 flex items-center gap-1.5">
									<input
										type="checkbox"
										className="accent-spruce"
										checked={member.may_begin}
										onChange={(event) => change.mutate({ id: member.id, may_begin: event.target.checked })}
									/>
									{say("may begin projects of their own")}
								</label>
							)}
						</span>
						<span className="ml-auto w-32">
							{owner ? (
								<Choice
									name={say("Role of {display_name}", { display_name: member.account.display_name })}
									value={member.role}
									options={ROLES}
									onChange={(role) => change.mutate({ id: member.id, role })}
								/>
							) : (
								member.role
							)}
						</span>
						{owner && (
							<Button look="danger" onClick={() => remove.mutate(member.id)}>
								{say("Remove")}
							</Button>
						)}
					</li>
				))}
			</ul>
			{owner && <Invitations />}
			{owner && <AddMember />}
			{owner && <ProjectSettings />}
			{owner && <TakeOut />}
			{owner && <Forget />}
			{owner && <Backups />}
		</div>
	);
}

function AddMember() {
	const { id } = useProject();
	const [said, setSaid] = useState({ username: "", display_name: "", password: "" });
	const [role, setRole] = useState<Role>(USUAL);
	const add = useWrite(
		() =>
			take(
				api.POST("/api/projects/{project_id}/members", {
					params: { path: { project_id: id } },
					body: { ...said, role },
				}),
			),
		{ onSuccess: () => setSaid({ username: "", display_name: "", password: "" }) },
	);
	const field = (name: keyof typeof said, label: string, type = "text") => (
		<label className="block text-[13px] font-semibold">
			{label}
			<input
				type={type}
				autoComplete="off"
				className="field mt-1 w-full font-normal"
				value={said[name]}
				onChange={(event) => setSaid({ ...said, [name]: event.target.value })}
			/>
		</label>
	);
	return (
		<form
			className="mt-6 rounded-lg border border-line bg-card p-4"
			onSubmit={(event) => {
				event.preventDefault();
				add.mutate(undefined);
			}}
		>
			<h2 className="mb-2">{say("Add a member by hand")}</h2>
			<div className="grid cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3">
				{field("username", say("Signs in as"))}
				<div className="text-[13px] font-semibold">
					{say("Role")}
					<div className="mt-1 font-normal">
						<Choice name={say("Role")} value={role} options={ROLES} onChange={setRole} />
					</div>
				</div>
				{field("display_name", say("Name shown (for a new account)"))}
				{field("password", say("First password (for a new account)"), "password")}
			</div>
			<Button look="main" type="submit" className="mt-3" disabled={add.isPending}>
				{say("Add")}
			</Button>
		</form>
	);
}

type Rounding = 0 | 3 | 5;
const ROUNDINGS: { value: Rounding; label: string }[] = [
	{ value: 0, label: say("as they are") },
	{ value: 3, label: say("rounded to 3s") },
	{ value: 5, label: say("rounded to 5s") },
];

function ProjectSettings() {
	const project = useProject();
	const navigate = useNavigate();
	const { tell } = useToasts();
	const path = { project_id: project.id };
	const [said, setSaid] = useState({
		name: project.name,
		case_one: project.case_one,
		case_many: project.case_many,
		hide_below: project.hide_below,
		round_to: project.round_to as Rounding,
		trail_days: project.trail_days,
	});
	const [typed, setTyped] = useState("");
	const save = useWrite(() => take(api.PATCH("/api/projects/{project_id}", { params: { path }, body: said })), {
		onSuccess: () => tell(say("Saved.")),
	});
	const remove = useWrite(() => take(api.POST("/api/projects/{project_id}/delete", { params: { path }, body: { name: typed } })), {
		onSuccess: () => navigate("/"),
	});
	return (
		<section className="mt-6 rounded-lg border border-line bg-card p-4">
			<h2 className="mb-2">{say("The project")}</h2>
			<div className="grid cols-[minmax(0,2fr)_minmax(0,1fr)_minmax(0,1fr)] items-end gap-3">
				{(["name", "case_one", "case_many"] as const).map((name) => (
					<label key={name} className="block text-[13px] font-semibold">
						{{ name: say("Name"), case_one: say("One case is a"), case_many: say("Several are") }[name]}
						<input
							className="field mt-1 w-full font-normal"
							value={said[name]}
							onChange={(event) => setSaid({ ...said, [name]: event.target.value })}
						/>
					</label>
				))}
			</div>
			<fieldset className="mt-4 border-t border-line2 pt-3 text-[13px]">
				<legend className="sr-only">{say("What may leave the project")}</legend>
				<p className="mb-1.5 font-semibold">{say("What may leave the project")}</p>
				<div className="flex flex-wrap items-end gap-4">
					<label className="block">
						{say("Hide cells of fewer than")}
						<input
							type="number"
							min={0}
							max={50}
							className="field mx-2 w-16"
							value={said.hide_below}
							onChange={(event) => setSaid({ ...said, hide_below: Math.min(50, Math.max(0, Math.round(Number(event.target.value)) || 0)) })}
						/>
						{say("{many} (0 hides none)", { many: project.case_many })}
					</label>
					<span className="flex items-center gap-2 whitespace-nowrap">
						{say("Counts are")}
						<Choice
							name={say("Rounding of counts")}
							value={said.round_to}
							options={ROUNDINGS}
							onChange={(round_to) => setSaid({ ...said, round_to })}
						/>
					</span>
				</div>
				<p className="mt-1 quiet-line">
					{say(
						"Holds for tables, figures, passages, frozen results, codes with codes, the overview and distributions; whoever exports may hide more, never less. On screen members see everything.",
					)}
				</p>
			</fieldset>
			<label className="mt-3 block border-t border-line2 pt-3 text-[13px]">
				{phrase("<b>The trail</b> of who did what is kept for", { b: (inner) => <b>{inner}</b> })}
				<input
					type="number"
					min={0}
					max={10000}
					className="field mx-2 w-20"
					value={said.trail_days}
					onChange={(event) => setSaid({ ...said, trail_days: Math.min(10000, Math.max(0, Math.round(Number(event.target.value)) || 0)) })}
				/>
				{phrase(
					"days (0 keeps it for good)<span>Older entries go every night, with what was deleted or changed then: undo doesn’t reach back further.</span>",
					{ span: (inner) => <span className="block quiet-line">{inner}</span> },
				)}
			</label>
			<Button className="mt-3" onClick={() => save.mutate(undefined)}>
				{say("Save")}
			</Button>
			<p className="mt-5 mb-1 quiet-line">{say("Deleting the project deletes everything in it for good. Type its name to do so.")}</p>
			<div className="flex gap-2">
				<input
					aria-label={say("The project’s name, to delete it")}
					className="field w-72"
					value={typed}
					onChange={(event) => setTyped(event.target.value)}
				/>
				<Button look="danger" disabled={typed !== project.name} onClick={() => remove.mutate(undefined)}>
					{say("Delete for good")}
				</Button>
			</div>
		</section>
	);
}
