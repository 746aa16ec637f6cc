import { showLevel } from '../timing/display.ts';
import type { Sheet, SheetStage } from './model.ts';
import { cascadeSvg } from './picture.ts';

/** The sheet as Markdown; the Cascade's picture is part of the file. */
export function sheetMarkdown(sheet: Sheet): string {
  const lines = [`# ${sheet.title}`, '', sheet.summary, ''];
  for (const [label, value] of sheet.facts) lines.push(`- **${label}**: ${value}`);
  if (sheet.facts.length > 0) lines.push('');
  if (sheet.rows.length > 0) {
    const picture = encodeURIComponent(cascadeSvg(sheet.rows, sheet.timing)).replace(/[()]/g, (c) =>
      c === '(' ? '%28' : '%29',
    );
    lines.push('## Cascade', '', `![The sound after each stage](data:image/svg+xml,${picture})`, '');
    lines.push(
      '| row | peak |',
      '|---|---|',
      ...sheet.rows.map((row) => `| ${cell(row.title)} | ${showLevel(row.peak)}FS |`),
      '',
    );
  }
  lines.push('## Stages', '');
  for (const stage of sheet.stages) lines.push(...stageLines(stage), '');
  lines.push('## Tempo', '', sheet.tempo, '', '## Render', '', sheet.render, '');
  if (sheet.notes.trim() !== '') lines.push('## Notes', '', sheet.notes.trim(), '');
  return `${lines
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim()}\n`;
}

function stageLines(stage: SheetStage): string[] {
  const original = stage.original ? ` (${stage.original})` : '';
  const lines = [
    `### ${stage.number}. ${stage.title}${original}${stage.branch && `, in ${stage.branch}`}${stage.on ? '' : ' – switched off'}`,
    '',
    `*${stage.family}* – ${stage.summary}`,
  ];
  if (stage.note) lines.push('', `> ${stage.note.replace(/\n/g, '\n> ')}`);
  if (stage.settings.length > 0) {
    lines.push('', '| setting | value | also | what is heard |', '|---|---|---|---|');
    for (const { label, value, also, doc } of stage.settings)
      lines.push(`| ${[label, value, also, doc].map(cell).join(' | ')} |`);
  }
  return lines;
}

function cell(text: string): string {
  return text.replace(/\|/g, '\\|').replace(/\n/g, ' ');
}
