import { placeholderName, toMessage, placeholderIn } from './placeholders.ts';

/** A piece of a text for its author: words, or a placeholder's name. */
export interface ReadablePart {
  readonly text: string;
  readonly isPlaceholder: boolean;
  readonly isBold: boolean;
}

type Node = ReturnType<ReturnType<typeof toMessage>['getAst']>[number];

/**
 * A text (Markdown with ICU placeholders) as its writer reads it: bold in bold, links as their words, placeholders by
 * their names, plurals by their general form. A text that cannot be read comes back as it is written.
 */
export function readableParts(text: string): ReadablePart[] {
  const withoutAddresses = text.replace(/\[([^\]]*)\]\([^)]*\)/g, '$1');
  let nodes: Node[];
  try {
    nodes = toMessage(withoutAddresses, 'en').getAst();
  } catch {
    return [{ text, isPlaceholder: false, isBold: false }];
  }
  let isBold = false;
  const parts: ReadablePart[] = [];
  const visit = (all: readonly Node[], counted: string) => {
    for (const node of all) {
      const name = placeholderIn(node);
      if ('options' in node) visit(node.options.other?.value ?? [], name ?? counted);
      else if (name !== null || !('value' in node))
        parts.push({ text: placeholderName(name ?? counted), isPlaceholder: true, isBold });
      else
        node.value.split('**').forEach((words, index) => {
          if (index > 0) isBold = !isBold;
          if (words !== '') parts.push({ text: words, isPlaceholder: false, isBold });
        });
    }
  };
  visit(nodes, '');
  return parts;
}

/** The texts quoted in a sentence. */
export function readableSentence(sentence: string): ReadablePart[] {
  return sentence.split(/(“(?:\\[\s\S]|[^”\\])*”)/).flatMap((piece, index): ReadablePart[] => {
    if (piece === '') return [];
    if (index % 2 === 0) return [{ text: piece, isPlaceholder: false, isBold: false }];
    const quoted = piece.slice(1, -1).replace(/\\([\\”⏎])/g, '$1');
    const mark = (text: string): ReadablePart => ({ text, isPlaceholder: false, isBold: false });
    return [mark('“'), ...readableParts(quoted), mark('”')];
  });
}
