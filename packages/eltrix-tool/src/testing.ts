/** Tests of elements: written with `node:test`, run in real engines by `eltrix test`. */
export { settled } from 'eltrix';
export { type AuditFinding, type AuditOptions, audit, findings } from './testing/audit.ts';
export { deep, deepAll, snapshot } from './testing/deep.ts';
export { type EventLog, nextEvent, type RecordedEvent, recordEvents } from './testing/event-log.ts';
export { atEnd, type Environment, environment } from './testing/host.ts';
export { type Leftover, leaves } from './testing/leftovers.ts';
export { type PictureOptions, picture } from './testing/picture.ts';
export { type Answer, type Answering, respond } from './testing/respond.ts';
export { type Specimen, specimen, stage } from './testing/stage.ts';
export { override, standIn } from './testing/stand-in.ts';
export { checkInlineSnapshot, checkSnapshot } from './testing/stored.ts';
export { type PressOptions, user } from './testing/user.ts';
export { type WaitOptions, waitFor } from './testing/wait-for.ts';
