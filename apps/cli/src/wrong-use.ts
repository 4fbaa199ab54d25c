/** A command that cannot be meant; the sentence says why, and the usage follows it. */
export class WrongUse extends Error {}
