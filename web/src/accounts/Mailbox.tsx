import { useQuery } from "@tanstack/react-query";
import { Fragment } from "react";
import { Link } from "react-router";
import { api, take } from "../api/client";
import { say } from "../language/say";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { useTitle } from "../ui/title";
import { moment } from "../ui/words";

/** Where the demo keeps the mails that it sends to nobody. */
export function Mailbox() {
	const mails = useQuery({ queryKey: ["mailbox"], queryFn: () => take(api.GET("/api/mailbox")), refetchInterval: 3000 });
	useTitle(say("The demo’s mailbox"));
	const hindered = hindrance(mails);
	if (hindered) return <Problem error={hindered} />;
	if (!mails.data) return <Loading what={say("the mailbox")} />;
	return (
		<main className="mx-auto max-w-2xl p-8">
			<Link className="text-[13px] text-spruce hover:underline" to="/">
				{say("To Cohortia")}
			</Link>
			<h1 className="mt-2 mb-1">{say("The demo’s mailbox")}</h1>
			<p className="mb-4 quiet-line">
				{say("Mails of the demo go to nobody: the newest are shown here. A server of one’s own sends them.")}
			</p>
			{mails.data.length === 0 && <p className="quiet-line">{say("No mail yet. Invite somebody, or ask for a new password.")}</p>}
			<ul className="space-y-3">
				{mails.data.map((mail) => (
					<li key={`${mail.sent_at} ${mail.subject}`} className="rounded-lg border border-line bg-card px-4 py-3">
						<p className="flex gap-3">
							<b className="font-semibold">{mail.subject}</b>
							<span className="ml-auto quiet-line whitespace-nowrap">{moment(mail.sent_at)}</span>
						</p>
						<p className="quiet-line">{say("to {to}", { to: mail.to })}</p>
						<p className="mt-2 text-[14px] whitespace-pre-wrap [overflow-wrap:anywhere]">
							<Linked text={mail.text} />
						</p>
					</li>
				))}
			</ul>
		</main>
	);
}

/** Links of this Cohortia can be followed. */
function Linked({ text }: { text: string }) {
	const parts = text.split(/(https?:\/\/\S+)/);
	return parts.map((part, place) => {
		const key = `${place} ${part}`;
		if (!/^https?:/.test(part)) return <Fragment key={key}>{part}</Fragment>;
		return (
			<Link key={key} className="text-spruce underline" to={new URL(part).pathname}>
				{part}
			</Link>
		);
	});
}
