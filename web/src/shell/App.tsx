import { Navigate, Route, Routes } from "react-router";
import { AccountPage } from "../accounts/AccountPage";
import { Invitation } from "../accounts/Invitation";
import { Mailbox } from "../accounts/Mailbox";
import { Forgotten, NewPassword } from "../accounts/Passwords";
import { SignIn } from "../accounts/SignIn";
import { AnswersPage } from "../coding/answers/AnswersPage";
import { CodebookPage } from "../coding/codebook/CodebookPage";
import { Desk } from "../coding/desk/Desk";
import { FindPage } from "../coding/find/FindPage";
import { MemosPage } from "../coding/memos/MemosPage";
import { ThemesPage } from "../coding/themes/ThemesPage";
import { Compare } from "../compare/Compare";
import { FrozenPage } from "../compare/frozen/FrozenPage";
import { OverviewPage } from "../compare/overview/OverviewPage";
import { PassagesPage } from "../compare/passages/PassagesPage";
import { TogetherPage } from "../compare/together/TogetherPage";
import { BringIn } from "../gather/BringIn";
import { Shelf } from "../gather/Shelf";
import { Texts } from "../gather/Texts";
import { People } from "../people/People";
import { useSession } from "../project/session";
import { DigestsPage } from "../report/DigestsPage";
import { ExhibitsPage } from "../report/ExhibitsPage";
import { Loading, Problem } from "../ui/Empty";
import { Frame } from "./Frame";
import { History } from "./History";
import { Members } from "./Members";
import { Projects } from "./Projects";

/** Who isn't signed in sees the sign-in, at whatever address; then the address decides. */
export function App() {
	const session = useSession();
	if (session.error) return <Problem error={session.error} />;
	if (!session.data) return <Loading what="Cohortia" />;
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
				<Route path="gather" element={<Shelf />} />
				<Route path="gather/bring-in" element={<BringIn />} />
				<Route path="gather/texts" element={<Texts />} />
				<Route path="people" element={<People />} />
				<Route path="code" element={<Desk />} />
				<Route path="code/answers" element={<AnswersPage />} />
				<Route path="code/codebook" element={<CodebookPage />} />
				<Route path="code/themes" element={<ThemesPage />} />
				<Route path="code/find" element={<FindPage />} />
				<Route path="code/memos" element={<MemosPage />} />
				<Route path="code/:documentId" element={<Desk />} />
				<Route path="compare" element={<Compare />} />
				<Route path="compare/together" element={<TogetherPage />} />
				<Route path="compare/passages" element={<PassagesPage />} />
				<Route path="compare/overview" element={<OverviewPage />} />
				<Route path="compare/frozen" element={<FrozenPage />} />
				<Route path="compare/frozen/:frozenId" element={<FrozenPage />} />
				<Route path="report" element={<ExhibitsPage />} />
				<Route path="report/exhibits/:exhibitId" element={<ExhibitsPage />} />
				<Route path="report/digests" element={<DigestsPage />} />
				<Route path="members" element={<Members />} />
				<Route path="history" element={<History />} />
			</Route>
			<Route path="*" element={<Navigate to="/" replace />} />
		</Routes>
	);
}
