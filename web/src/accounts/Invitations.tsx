import { useQuery } from "@tanstack/react-query";
import { Copy } from "lucide-react";
import { useState } from "react";
import { api, take } from "../api/client";
import { say } from "../language/say";
import { useProject, useWrite } from "../project/project";
import { read } from "../project/reads";
import { ROLES, type Role, roleOf, USUAL } from "../project/roles";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useRefused } from "../ui/refused";
import { useToasts } from "../ui/toasts";
import { moment } from "../ui/words";

/** Inviting into the project: by mail, or by a link that the owner hands over. */
export function Invitations() {
	const { id } = useProject();
	const path = { project_id: id };
	const mail = useSession().data?.mail ?? false;
	const [email, setEmail] = useState("");
	const [role, setRole] = useState<Role>(USUAL);
	const waiting = useQuery(read("invitations", id)).data;
	const invite = useWrite(() => take(api.POST("/api/projects/{project_id}/invitations", { params: { path }, body: { email, role } })), {
		onSuccess: () => setEmail(""),
		quiet: true,
	});
	const refused = useRefused(invite.error);
	const withdraw = useWrite((invitation_id: number) =>
		take(api.DELETE("/api/projects/{project_id}/invitations/{invitation_id}", { params: { path: { ...path, invitation_id } } })),
	);
	return (
		<section className="mt-6 rounded-lg border border-line bg-card p-4" aria-label={say("Invite somebody")}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					invite.mutate(undefined);
				}}
			>
				<h2 className="mb-2">{say("Invite somebody")}</h2>
				<div className="flex items-end gap-3">
					<label className="block grow text-[13px] font-semibold">
						{mail ? say("Mail address") : say("For whom (a mail address; may stay empty)")}
						<input
							className="field mt-1 w-full font-normal"
							type="email"
							required={mail}
							value={email}
							onChange={(event) => setEmail(event.target.value)}
							{...refused.field}
						/>
					</label>
					<div className="w-32 text-[13px] font-semibold">
						{say("Role")}
						<div className="mt-1 font-normal">
							<Choice name={say("Role of whoever is invited")} value={role} options={ROLES} onChange={setRole} />
						</div>
					</div>
					<Button look="main" type="submit" className="mb-0.5" disabled={invite.isPending}>
						{mail ? say("Send the invitation") : say("Make a link")}
					</Button>
				</div>
				<div className="mt-2">{refused.said}</div>
			</form>
			{invite.data && <MadeLink link={invite.data.link} sent={mail && invite.data.email !== ""} to={invite.data.email} />}
			{waiting && waiting.length > 0 && (
				<ul className="mt-3 border-t border-line2 pt-2 text-[13.4px]" aria-label={say("Invitations that wait")}>
					{waiting.map((one) => (
						<li key={one.id} className="flex items-center gap-2 py-1">
							<span className="min-w-0 truncate" title={one.email}>
								{one.email || say("by a link")}
							</span>
							<span className="quiet-line whitespace-nowrap">
								{say("as {role}, until {until}", { role: roleOf(one.role), until: moment(one.until) })}
							</span>
							<Button
								look="danger"
								className="ml-auto"
								aria-label={say("Withdraw the invitation of {email}", { email: one.email || say("a link") })}
								onClick={() => withdraw.mutate(one.id)}
							>
								{say("Withdraw")}
							</Button>
						</li>
					))}
				</ul>
			)}
		</section>
	);
}

function MadeLink({ link, sent, to }: { link: string; sent: boolean; to: string }) {
	const { tell } = useToasts();
	return (
		<div role="status" className="rounded-md bg-spruce-soft px-3 py-2 text-[13.4px]">
			<p>
				{sent
					? say("A mail is on its way to {to}. The same link can be handed over:", { to })
					: say("Hand this link over. It is shown only now, and can be used once:")}
			</p>
			<p className="mt-1 flex items-center gap-2">
				<code className="min-w-0 grow [overflow-wrap:anywhere]">{link}</code>
				<Button
					onClick={() => {
						void navigator.clipboard.writeText(link).then(() => tell(say("The link is copied.")));
					}}
				>
					<Copy size={14} />
					{say(" Copy")}
				</Button>
			</p>
		</div>
	);
}
