import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { matchPath, Navigate, Route, Routes, useLocation } from "react-router";
import { Invitation } from "../accounts/Invitation";
import { Mailbox } from "../accounts/Mailbox";
import { Forgotten, NewPassword } from "../accounts/Passwords";
import { SignIn } from "../accounts/SignIn";
import { useSession, useTheirLanguage } from "../project/session";
import { useStaleTold } from "../project/stale";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { Hints } from "../ui/Hints";
import { Connection } from "./Connection";
import { AccountPage, Frame, fetchTheRest, PAGES, Projects, useFirstThere } from "./pages";

/** How the line is, above whatever page; within a project its frame says so, with what waits for it. */
export function App() {
	const known = Boolean(useSession().data?.account);
	const within = matchPath("/projects/:id/*", useLocation().pathname) !== null;
	useStaleTold();
	return (
		<>
			{!(known && within) && <Connection />}
			<Page />
			<Hints />
		</>
	);
}

/** Who isn't signed in sees the sign-in, at whatever address; then the address decides. */
function Page() {
	const session = useSession();
	useTheirLanguage();
	const client = useQueryClient();
	const there = useFirstThere();
	const known = Boolean(session.data?.account);
	useEffect(() => {
		if (known) void fetchTheRest(client);
	}, [known, client]);
	const hindered = hindrance(session);
	if (hindered) return <Problem error={hindered} />;
	if (!session.data || !there) return <Loading what="Cohortia" />;
	const outside = (
		<>
			<Route path="forgotten" element={<Forgotten session={session.data} />} />
			<Route path="new-password/:key/:token" element={<NewPassword />} />
			<Route path="invitation/:secret" element={<Invitation session={session.data} />} />
			<Route path="mailbox" element={<Mailbox />} />
		</>
	);
	if (!session.data.account)
		return (
			<Routes>
				{outside}
				<Route path="*" element={<SignIn session={session.data} />} />
			</Routes>
		);
	return (
		<Routes>
			{outside}
			<Route index element={<Projects />} />
			<Route path="account" element={<AccountPage />} />
			<Route path="projects/:projectId" element={<Frame />}>
				<Route index element={<Navigate to="gather" replace />} />
				{PAGES.map(({ address, Page }) => (
					<Route key={address} path={address} element={<Page />} />
				))}
			</Route>
			<Route path="*" element={<Navigate to="/" replace />} />
		</Routes>
	);
}
