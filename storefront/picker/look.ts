/** Styles of the picker; adopted, so that the shop's policy allows them and its own styles do not apply. */
export const LOOK = `
:host { all: initial; position: fixed; inset: 0; z-index: 2147483647; pointer-events: none; color-scheme: light; }
* { box-sizing: border-box; }
.outline { position: fixed; border: 2px solid #0e6f7c; border-radius: 4px; background: #0e6f7c1f; }
[hidden] { display: none !important; }
.panel { position: fixed; inset-block: 12px; width: 348px; display: flex; flex-direction: column; pointer-events: auto; color: #23282b;
  background: #f6f3ec; border: 1px solid #16323a; border-radius: 10px; overflow: hidden; font: 13px/1.4 system-ui, sans-serif;
  box-shadow: 0 10px 40px #16323a55; }
.panel.right { right: 12px; } .panel.left { left: 12px; }
.panel.low { inset-block: auto 12px; }
header { background: #16323a; color: #f6f3ec; padding: 12px 16px; display: grid; grid-template-columns: 1fr auto; gap: 2px 8px; }
h1 { margin: 0; font: 500 19px/1.2 Georgia, serif; }
header p { margin: 0; grid-column: 1 / -1; color: #d5dcd8; }
.task { margin: 0; padding: 10px 16px; background: #e3edea; font: 16px/1.35 Georgia, serif; }
.task small { display: block; font: 12px/1.4 system-ui, sans-serif; color: #4c565a; margin-top: 2px; }
.scroll { overflow: auto; flex: 1; padding-bottom: 8px; }
h2 { margin: 14px 16px 4px; font: 600 12px/1.3 system-ui, sans-serif; color: #566064; }
ul { list-style: none; margin: 0; padding: 0; }
li { border-top: 1px solid #e7e1d3; }
li.open { background: #fff; }
button { font: inherit; color: inherit; cursor: pointer; }
button:disabled { cursor: default; color: #6b6455; }
button:focus-visible, input:focus-visible { outline: 2px solid #0e6f7c; outline-offset: 1px; }
.part { display: grid; grid-template-columns: 1fr auto; gap: 0 8px; width: 100%; padding: 7px 16px; border: 0; background: none; text-align: start; }
.part:hover { background: #fff; }
.part code { grid-column: 1 / -1; color: #4c565a; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.part .none { grid-column: 1 / -1; color: #6b6455; font-style: italic; }
.count { font-variant-numeric: tabular-nums; color: #2e5b3c; }
.count.zero { color: #6b6455; }
code, input { font: 12px/1.5 ui-monospace, monospace; }
.ways { padding: 0 16px 12px; }
.ways .why { margin: 0; padding: 4px 0; color: #4c565a; }
.ways label { display: grid; grid-template-columns: auto 1fr; gap: 0 8px; padding: 4px 0; cursor: pointer; }
.ways code { overflow-wrap: anywhere; }
.ways small { grid-column: 2; color: #566064; }
.ways input[type=text] { width: 100%; padding: 5px 8px; border: 1px solid #8f8874; border-radius: 5px; background: #fff; color: inherit; margin-top: 4px; }
.acts { display: flex; gap: 8px; flex-wrap: wrap; margin-top: 8px; }
.acts button, footer button { padding: 5px 11px; border: 1px solid #16323a; border-radius: 6px; background: #fff; }
footer button:disabled { border-color: #c9c1ae; }
button.main { background: #16323a; color: #f6f3ec; }
header button { border: 1px solid #6f8a8f; background: none; border-radius: 6px; padding: 2px 8px; color: inherit; }

.stop { padding: 0 16px 12px; background: #e3edea; }
footer { padding: 10px 16px; border-top: 1px solid #dfd8c8; display: grid; gap: 8px; background: #fff; }
footer p { margin: 0; }
a { color: #0e6f7c; }
a:focus-visible { outline: 2px solid #0e6f7c; outline-offset: 1px; }
footer .acts { margin: 0; }
.wrong { color: #97301c; }
.strip { position: fixed; inset-inline: 12px; bottom: 12px; pointer-events: auto; background: #16323a; color: #f6f3ec; border-radius: 10px;
  padding: 12px 16px; font: 13px/1.4 system-ui, sans-serif; box-shadow: 0 10px 40px #16323a55; }
.strip.right { right: 372px; } .strip.left { left: 372px; }
.strip ol { list-style: none; margin: 8px 0 0; padding: 0; display: flex; gap: 14px; overflow-x: auto; }
.strip li { border: 0; flex: none; }
.strip .window { width: 256px; height: 160px; overflow: hidden; border-radius: 4px; background: #fff; margin-top: 4px; }
.strip iframe { width: 1024px; height: 640px; border: 0; transform: scale(0.25); transform-origin: 0 0; pointer-events: none; }
.strip header { padding: 0; background: none; }
.away { position: fixed; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
.away iframe { width: 1280px; height: 800px; }
`;
