import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { earliest } from './earliest.ts';

const HOUR = 3_600_000;

describe('work that is done at the earliest of several times', () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it('is done once, after the shortest delay', () => {
    const work = vi.fn();
    const after = earliest(work);
    after(500);
    after(100);
    after(300);
    vi.advanceTimersByTime(99);
    expect(work).not.toHaveBeenCalled();
    vi.advanceTimersByTime(10_000);
    expect(work).toHaveBeenCalledOnce();
  });

  it('can be asked for again once it was done', () => {
    const work = vi.fn();
    const after = earliest(work);
    after(100);
    vi.advanceTimersByTime(100);
    after(100);
    vi.advanceTimersByTime(100);
    expect(work).toHaveBeenCalledTimes(2);
  });

  it('waits for longer than a timer can', () => {
    const work = vi.fn();
    earliest(work)(60 * 24 * HOUR);
    vi.advanceTimersByTime(60 * 24 * HOUR - 1);
    expect(work).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(work).toHaveBeenCalledOnce();
  });
});
