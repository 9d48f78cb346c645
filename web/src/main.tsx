import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { ApiError } from "./api/client";
import { App } from "./shell/App";
import "./styles.css";
import { Toasts } from "./ui/toasts";

const retry = (failures: number, error: Error) => failures < 2 && error instanceof ApiError && error.status === 0;
const client = new QueryClient({
	defaultOptions: { queries: { retry, staleTime: 5_000 }, mutations: { retry } },
});

createRoot(document.getElementById("root") as HTMLElement).render(
	<StrictMode>
		<QueryClientProvider client={client}>
			<BrowserRouter>
				<Toasts>
					<App />
				</Toasts>
			</BrowserRouter>
		</QueryClientProvider>
	</StrictMode>,
);
