declare global {
	namespace App {
		interface PageState {
			/** The project was just made, and is not named yet. */
			isNew?: boolean;
		}
		interface Locals {
			/** Who asks, so that turns can be shared fairly. */
			client: string;
		}
	}
}

export {};
