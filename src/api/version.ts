import { version as ofPackage } from '../../package.json' with { type: 'json' };

/** The version of this program. */
export const version: string = ofPackage;
