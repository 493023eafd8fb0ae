declare global {
	namespace App {
		interface Locals {
			/** Who asks, so that turns can be shared fairly. */
			client: string;
		}
	}
}

export {};
