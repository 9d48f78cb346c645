import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { ApiError } from "./api/client";
import { App } from "./shell/App";
import { fetchFor } from "./shell/pages";
import "./styles.css";
import { Mishap } from "./ui/Mishap";
import { followTheme } from "./ui/theme";
import { Toasts } from "./ui/toasts";

const retry = (failures: number, error: Error) => failures < 2 && error instanceof ApiError && error.status === 0;
// A database that restarts takes a few seconds; reading again changes nothing.
const again = (failures: number, error: Error) =>
	retry(failures, error) || (failures < 5 && error instanceof ApiError && [502, 503, 504].includes(error.status));
const client = new QueryClient({
	defaultOptions: {
		queries: { retry: again, staleTime: 5_000 },
		// A write isn’t held back until the line is there again: it says at once that it couldn’t be done.
		mutations: { retry, networkMode: "always" },
	},
});

followTheme();
const shown = (
	<StrictMode>
		<QueryClientProvider client={client}>
			{/* The next key must find the address as the last one left it: as a transition it could still be the one before. */}
			<BrowserRouter useTransitions={false}>
				<Toasts>
					<Mishap at="">
						<App />
					</Mishap>
				</Toasts>
			</BrowserRouter>
		</QueryClientProvider>
	</StrictMode>
);
void fetchFor(location, client).then(() => createRoot(document.getElementById("root") as HTMLElement).render(shown));
