import type { GestureKind } from './gesture.ts';

/** Gives the present tool its next answer, where the pointer is let go. */
export const answerTool: GestureKind = (scene) => {
	const { desk, drafting } = scene;
	return {
		press: () => desk.tool !== 'select',
		move: (at) => scene.aim(at),
		release(at) {
			scene.aim(at);
			desk.notice = '';
			if (drafting.wants !== 'curves') {
				if (drafting.cursor) drafting.click(drafting.cursor, drafting.under);
				return;
			}
			const thing = scene.thingAt(at.px, at.py);
			if (thing) desk.select([thing], true);
		},
		cancel() {}
	};
};
