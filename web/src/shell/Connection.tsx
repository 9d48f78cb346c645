import { onlineManager, useQueryClient } from "@tanstack/react-query";
import { CloudOff, Hourglass } from "lucide-react";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { api } from "../api/client";
import { endOfSession, onEnding } from "../api/ending";
import { lineNow, onLine } from "../api/line";
import { say } from "../language/say";

const MINUTE = 60_000;

/** Said in time before somebody is signed out for having done nothing, with a way to stay (WCAG 2.2.1). */
function Ending() {
	const ends = useSyncExternalStore(onEnding, endOfSession);
	const [now, setNow] = useState(() => Date.now());
	useEffect(() => {
		if (ends === null) return;
		setNow(Date.now());
		const timer = window.setInterval(() => setNow(Date.now()), MINUTE);
		return () => window.clearInterval(timer);
	}, [ends]);
	if (ends === null || ends < now) return null;
	return (
		<p role="alert" className="flex items-center gap-2 border-b border-line bg-apricot-soft px-4.5 py-1 text-[13.4px]">
			<Hourglass size={15} className="shrink-0 text-apricot-deep" aria-hidden="true" />
			{say("Nothing was done here for a long time: you will be signed out in {minutes, plural, one {# minute} other {# minutes}}.", {
				minutes: Math.max(1, Math.round((ends - now) / MINUTE)),
			})}
			<button
				type="button"
				className="font-semibold text-spruce underline underline-offset-2"
				onClick={() => void api.GET("/api/projects")}
			>
				{say("Stay signed in")}
			</button>
		</p>
	);
}

/** Said on every page while the server lets wait or doesn’t answer: what that means for what is done, and that it goes on
 * by itself. `waiting`: codings kept in this browser until they can be sent. */
export function Connection({ waiting = 0 }: { waiting?: number }) {
	const line = useSyncExternalStore(onLine, lineNow);
	const client = useQueryClient();
	const before = useRef(line);
	useEffect(() => {
		// What is asked meanwhile waits, and what failed is asked again, as soon as something answers.
		onlineManager.setOnline(line !== "gone");
		const back = before.current === "gone" && line !== "gone";
		before.current = line;
		if (back) void client.refetchQueries({ predicate: (query) => query.state.status === "error", type: "active" });
	}, [line, client]);
	if (line === "here" && !waiting) return <Ending />;
	const gone = line === "gone" || waiting > 0;
	return (
		<p role="status" className="flex items-center gap-2 border-b border-line bg-apricot-soft px-4.5 py-1 text-[13.4px]">
			{gone ? (
				<CloudOff size={15} className="shrink-0 text-apricot-deep" aria-hidden="true" />
			) : (
				<Hourglass size={15} className="shrink-0 text-apricot-deep" aria-hidden="true" />
			)}
			<span>
				{waiting > 0 && (
					<b className="font-semibold">
						{say("{codings, plural, one {# coding} other {# codings}} not saved yet. ", { codings: waiting })}
					</b>
				)}
				{gone && say("The server doesn’t answer. ")}
				{waiting > 0
					? say("They are kept in this browser and sent as soon as it does; go on coding.")
					: gone
						? say("What is on the screen stays; what else is asked for comes as soon as it does. Nothing needs to be pressed.")
						: say("The server takes its time. What was asked for comes as soon as it is there.")}
			</span>
		</p>
	);
}
