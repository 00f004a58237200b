import MarkdownIt from 'markdown-it';
import { isSafeHref } from './href.ts';

const markdown = new MarkdownIt('zero', { html: false, breaks: true, linkify: false }).enable([
  'backticks',
  'emphasis',
  'link',
  'list',
  'newline',
  'escape',
]);
markdown.validateLink = isSafeHref;

/** Bold, italics, links, lists and line breaks as safe HTML; raw HTML comes out as the words it is written in. */
export function toHtml(text: string): string {
  const html = markdown.render(text).trim();
  const single = /^<p>([\s\S]*)<\/p>$/.exec(html)?.[1];
  return single !== undefined && !single.includes('<p>') ? single : html;
}

/** Words that come from outside a text mean nothing in Markdown. */
export function escapeMarkdown(words: string): string {
  return words.replace(/[!-/:-@[-`{-~]/g, '\\$&').replace(/\s+/g, ' ');
}
