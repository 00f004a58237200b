import { readableSentence } from '#core/texts/readable.ts';
import styles from './shared.module.css';

/** A sentence in which the texts that it quotes are drawn as shoppers read them, placeholders by their names. */
export function ReadableText({ text }: { readonly text: string }) {
  return readableSentence(text).map(({ text: words, isPlaceholder, isBold }, index) => {
    const key = `${index} ${words}`;
    if (isPlaceholder)
      return (
        <span key={key} className={styles.placeholder}>
          {isBold ? <b>{words}</b> : words}
        </span>
      );
    return isBold ? <b key={key}>{words}</b> : words;
  });
}
