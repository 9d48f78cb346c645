/** Seconds as people write them: 4:09, 1:02:07. */
export function clock(seconds: number): string {
	const whole = Math.floor(seconds);
	const rest = `${Math.floor((whole % 3600) / 60)}:${String(whole % 60).padStart(2, "0")}`;
	return whole >= 3600 ? `${Math.floor(whole / 3600)}:${rest.padStart(5, "0")}` : rest;
}
