export function shiftClock(shift: number): void;
