import fc from 'fast-check';
import { runs } from '#tests/support/sampling.ts';
import { describe, expect, it } from 'vitest';
import { categoryId, isWithin, samePath } from '../model/names.ts';
import { isSafeHref, isWebHref } from './href.ts';
import { escapeMarkdown, toHtml } from './markdown.ts';
import { textFault } from './placeholders.ts';

describe('texts become safe HTML', () => {
  it.each([
    ['plain', 'plain'],
    ['**bold** and *slanted*', '<strong>bold</strong> and <em>slanted</em>'],
    ['[Terms](/terms)', '<a href="/terms">Terms</a>'],
    ['one\ntwo', 'one<br>\ntwo'],
    ['- a\n- b', '<ul>\n<li>a</li>\n<li>b</li>\n</ul>'],
    ['one\n\ntwo', '<p>one</p>\n<p>two</p>'],
    ['<script>alert(1)</script>', '&lt;script&gt;alert(1)&lt;/script&gt;'],
    ['[x](javascript:alert(1))', '[x](javascript:alert(1))'],
    ['[x](data:text/html,hello)', '[x](data:text/html,hello)'],
    ['![x](/x.png)', '!<a href="/x.png">x</a>'],
  ])('%j', (text, html) => {
    expect(toHtml(text)).toBe(html);
  });

  it('whatever is written, no other tag and no attribute but href comes out', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'<>"\'=/[]()*_`&!\\ \nabjavscriptonx:'.match(/./gs)!) }),
        (text) => {
          const bare = toHtml(text).replace(
            /<\/?(p|strong|em|code|ul|ol|li)>|<br>|<a href="[^"<>]*">|<\/a>|<ol start="\d+">/g,
            '',
          );
          expect(bare).not.toMatch(/[<>]/);
        },
      ),
      runs(1000),
    );
  });

  it('words from outside stay the words they are', () => {
    fc.assert(
      fc.property(fc.string(), (words) => {
        const shown = toHtml(`x${escapeMarkdown(words)}x`)
          .replace(/&lt;/g, '<')
          .replace(/&gt;/g, '>')
          .replace(/&quot;/g, '"')
          .replace(/&amp;/g, '&');
        expect(shown).toBe(`x${words.replace(/\s+/g, ' ')}x`);
      }),
    );
  });
});

describe('addresses', () => {
  it.each([
    '/terms',
    '/',
    '/a?b=c#d',
    'https://a.example',
    'HTTP://a.example/x',
    'mailto:a@b.example',
    'tel:+351',
    'tel:+351 21 (0)',
  ])('%s is safe', (href) => {
    expect(isSafeHref(href)).toBe(true);
  });
  it.each([
    'javascript:x',
    ' javascript:x',
    'java\tscript:x',
    '//a.example',
    '/\\a.example',
    'data:x',
    'a.example',
    '',
    'https://',
    'mailto:',
    'tel:+351 javascript',
    'vbscript:x',
  ])('%j is not', (href) => {
    expect(isSafeHref(href)).toBe(false);
  });
  it('pages lead to the web alone', () => {
    expect(['mailto:a@b.example', 'tel:1', '/in', 'https://a.example'].map(isWebHref)).toEqual([
      false,
      false,
      true,
      true,
    ]);
  });
});

describe('placeholders', () => {
  it.each([
    '{product.title}',
    '{product.date.last-order}',
    '{product.attribute.sold-at}',
    '{stock.quantity, plural, one {one} other {# left}}',
    'Don’t',
    "it's",
    '100%',
  ])('%s are known', (text) => {
    expect(textFault(text)).toBeNull();
  });
  it.each([
    '{product}',
    '{product.date}',
    '{visitor.email}',
    '{',
    '{stock.quantity, plural, one {x}}',
    '{toString}',
    '{constructor}',
  ])('%s are not', (text) => {
    expect(textFault(text)).not.toBeNull();
  });
});

describe('names', () => {
  it.each([
    [['Plants', 'Bulbs & tubers'], 'plants/bulbs-tubers'],
    [['  Élan -- vital '], 'elan-vital'],
    [['ÅNGSTRÖM', 'Straße 9'], 'angstrom/straße-9'],
    [['Растения', '植物 99'], 'растения/植物-99'],
    [['***'], null],
    [['Plants', ''], null],
  ])('%j has the id %j', (path, id) => {
    expect(categoryId(path)).toBe(id);
  });
  it('within means the category or below it', () => {
    expect([isWithin('a/b', 'a'), isWithin('a', 'a'), isWithin('ab', 'a'), isWithin('a', 'a/b')]).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });
  it.each([
    ['/a/b/', '/a/b'],
    ['/', '/'],
    ['/caf%C3%A9?x#y', '/café'],
    ['/broken%E0', '/broken%E0'],
    ['/nul%00', '/nul%00'],
  ])('%s is the path %s', (path, same) => {
    expect(samePath(path)).toBe(same);
  });
});
