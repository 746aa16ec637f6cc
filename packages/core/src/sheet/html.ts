import { escapeHtml } from './escape.ts';
import type { SheetControl, SheetModulator } from './behaviour.ts';
import type { Sheet, SheetStage } from './model.ts';
import { notesToHtml } from './notes.ts';
import { cascadeSvg } from './picture.ts';

const STYLE = `
body{margin:0 auto;max-width:60rem;padding:2rem;background:#f8f3e8;color:#2b2a33;font:16px/1.5 "Source Sans 3",system-ui,sans-serif}
h1,h2,h3{font-family:"Source Serif 4",Georgia,serif;line-height:1.2}h2{border-bottom:1px solid #b9ab8c;padding-bottom:.2rem;margin-top:2rem}
table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #d8cdb4;padding:.25rem .5rem;text-align:left;vertical-align:top}
td.figure{font-family:"Source Code Pro",monospace;white-space:nowrap}dl{display:grid;grid-template-columns:max-content 1fr;gap:.1rem 1rem}
dt{color:#5b5140}dd{margin:0}svg{width:100%;height:auto;border:1px solid #b9ab8c}.off{opacity:.6}blockquote{margin:.5rem 0;padding-left:1rem;border-left:3px solid #8a4b2a}
@page{margin:15mm}@media print{body{max-width:none;padding:0;background:none;font-size:10pt}svg,tr,blockquote,dl{break-inside:avoid}h1,h2,h3,h3+p{break-after:avoid}p{orphans:3;widows:3}*{print-color-adjust:exact}}`;

/**
 * The sheet as one HTML file that needs nothing else: no script, no network. `fontFaces`: rules of `fontFace`; without
 * them it shows in the fonts that are where it is read.
 */
export function sheetHtml(sheet: Sheet, fontFaces: readonly string[] = []): string {
  const facts = sheet.facts
    .map(([label, value]) => `<dt>${escapeHtml(label)}</dt><dd>${escapeHtml(value)}</dd>`)
    .join('');
  const body = [
    `<h1>${escapeHtml(sheet.title)}</h1>`,
    `<p>${escapeHtml(sheet.summary)}</p>`,
    `<dl>${facts}</dl>`,
    sheet.rows.length > 0 ? `<h2>Cascade</h2>${cascadeSvg(sheet.rows, sheet.timing)}` : '',
    sheet.controls.length === 0
      ? ''
      : `<h2>Panel</h2><table><tbody>${sheet.controls.map(controlRow).join('')}</tbody></table>`,
    `<h2>Stages</h2>${sheet.stages.map(stageSection).join('')}`,
    sheet.modulators.length === 0 ? '' : `<h2>Modulation</h2>${sheet.modulators.map(modulatorSection).join('')}`,
    sheet.lanes.length === 0 ? '' : `<h2>Automation</h2>${listOf(sheet.lanes)}`,
    `<h2>Tempo</h2><p>${escapeHtml(sheet.tempo)}</p>`,
    `<h2>Render</h2><p>${escapeHtml(sheet.render)}</p>`,
    sheet.notes.trim() === '' ? '' : `<h2>Notes</h2>${notesToHtml(sheet.notes)}`,
  ];
  return (
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">` +
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:">` +
    `<title>${escapeHtml(sheet.title)}</title><style>${fontFaces.join('')}${STYLE}</style></head><body><main>${body.join('')}</main></body></html>\n`
  );
}

const listOf = (lines: readonly string[]): string =>
  lines.length === 0 ? '' : `<ul>${lines.map((line) => `<li>${escapeHtml(line)}</li>`).join('')}</ul>`;

function controlRow({ name, group, value, range, drives, note }: SheetControl): string {
  const title = group ? `${group}: ${name}` : name;
  return (
    `<tr><th scope="row">${escapeHtml(title)}</th><td class="figure">${escapeHtml(value)}</td>` +
    `<td>${escapeHtml(range)}</td><td>${escapeHtml(note)}${listOf(drives)}</td></tr>`
  );
}

function modulatorSection({ title, summary, on, note, settings, moves }: SheetModulator): string {
  return (
    `<section${on ? '' : ' class="off"'}><h3>${escapeHtml(title)}${on ? '' : ' – off'}</h3><p>${escapeHtml(summary)}</p>` +
    (note ? `<blockquote>${escapeHtml(note)}</blockquote>` : '') +
    `<p>Settings: ${escapeHtml(settings.join(', '))}.</p>${listOf(moves)}</section>`
  );
}

function stageSection(stage: SheetStage): string {
  const rows = stage.settings
    .map(
      ({ label, value, also, doc }) =>
        `<tr><th scope="row">${escapeHtml(label)}</th><td class="figure">${escapeHtml(value)}</td>` +
        `<td class="figure">${escapeHtml(also)}</td><td>${escapeHtml(doc)}</td></tr>`,
    )
    .join('');
  const original = stage.original ? ` (${escapeHtml(stage.original)})` : '';
  return (
    `<section${stage.on ? '' : ' class="off"'}><h3>${stage.number}. ${escapeHtml(stage.title)}${original}${stage.branch && `, in ${escapeHtml(stage.branch)}`}${stage.on ? '' : ' – bypassed'}</h3>` +
    `<p><em>${escapeHtml(stage.family)}</em> – ${escapeHtml(stage.summary)}</p>` +
    (stage.note ? `<blockquote>${escapeHtml(stage.note)}</blockquote>` : '') +
    (rows ? `<table><tbody>${rows}</tbody></table>` : '') +
    '</section>'
  );
}
