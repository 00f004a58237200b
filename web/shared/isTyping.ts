/** Whether a key was meant for a field. */
export const isTyping = ({ target }: KeyboardEvent) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(input|textarea|select)$/i.test(target.tagName));
