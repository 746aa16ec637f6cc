#!/usr/bin/env node
import { runCommand } from '../dist/commands.js';

process.exitCode = await runCommand(process.argv.slice(2));
