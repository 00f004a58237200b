/** Goes through all steps of something that gives way, to its answer. */
export function finished<Answer>(steps: Generator<unknown, Answer>): Answer {
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
}
