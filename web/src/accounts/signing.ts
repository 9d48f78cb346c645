import { api, type Shape, take } from "../api/client";
import { useStep } from "../project/session";
import { askForPasskey, saidOf } from "./passkeys";

export function useSignIn() {
	return useStep((body: Shape<"SignInRequest">) => take(api.POST("/api/session", { body })));
}

export function useCode() {
	return useStep((code: string) => take(api.POST("/api/session/second", { body: { code } })));
}

export function usePasskey() {
	return useStep(async (_: undefined) => {
		const options = await take(api.GET("/api/session/passkey"));
		try {
			const credential = await askForPasskey(options.publicKey);
			return await take(api.POST("/api/session/passkey", { body: { credential } }));
		} catch (error) {
			throw saidOf(error);
		}
	});
}
