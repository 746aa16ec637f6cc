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
  if (sheet.controls.length > 0) {
    lines.push('## Panel', '', '| control | value | range | targets | what it does |', '|---|---|---|---|---|');
    for (const { name, group, value, range, drives, note } of sheet.controls)
      lines.push(
        `| ${[group ? `${group}: ${name}` : name, value, range, drives.join('; '), note].map(cell).join(' | ')} |`,
      );
    lines.push('');
  }
  lines.push('## Stages', '');
  for (const stage of sheet.stages) lines.push(...stageLines(stage), '');
  if (sheet.modulators.length > 0) {
    lines.push('## Modulation', '');
    for (const { title, summary, on, note, settings, moves } of sheet.modulators) {
      lines.push(`### ${title}${on ? '' : ' – off'}`, '', summary, '');
      if (note) lines.push(`> ${note.replace(/\n/g, '\n> ')}`, '');
      lines.push(`Settings: ${settings.join(', ')}.`, '', ...moves.map((move) => `- ${move}`), '');
    }
  }
  if (sheet.lanes.length > 0) lines.push('## Automation', '', ...sheet.lanes.map((lane) => `- ${lane}`), '');
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
    `### ${stage.number}. ${stage.title}${original}${stage.branch && `, in ${stage.branch}`}${stage.on ? '' : ' – bypassed'}`,
    '',
    `*${stage.family}* – ${stage.summary}`,
  ];
  if (stage.note) lines.push('', `> ${stage.note.replace(/\n/g, '\n> ')}`);
  if (stage.settings.length > 0) {
    lines.push('', '| parameter | value | equals | what is heard |', '|---|---|---|---|');
    for (const { label, value, also, doc } of stage.settings)
      lines.push(`| ${[label, value, also, doc].map(cell).join(' | ')} |`);
  }
  return lines;
}

function cell(text: string): string {
  return text.replace(/\|/g, '\\|').replace(/\n/g, ' ');
}
