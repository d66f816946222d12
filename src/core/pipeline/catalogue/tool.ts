import type { ToolStep } from '../definition';
import { connectionComplaints, neededComplaints, pick, say, type StepEntry, type Surroundings } from './entry';
import { key, longText, mapOf, text, value } from './schema-parts';

/** What is wrong with the tool and what it is given, as far as its server said what it wants. */
function toolComplaints(step: ToolStep, around: Surroundings): string[] {
  const tools = around.connections.find((connection) => connection.key === step.connection)?.tools ?? [];
  const connection = connectionComplaints(step.connection, ['mcp'], around);
  if (connection.length > 0) return connection;
  if (step.tool === '') return ['Choose a tool.'];
  const chosen = tools.find((offered) => offered.name === step.tool);
  if (chosen) return neededComplaints(`“${chosen.name}”`, chosen.needed ?? [], Object.keys(step.input ?? {}));
  return tools.length > 0 ? [`The server offers no tool “${step.tool}”. It offers ${tools.map((tool) => tool.name).join(', ')}.`] : [];
}

export const tool: StepEntry<ToolStep> = {
  name: 'Tool', group: 'Write', about: 'Use a tool of a Model Context Protocol server', words: 'mcp model context protocol agent function',
  schema: { properties: { connection: key, tool: text, input: mapOf(value, text), take: mapOf(longText, text) }, required: ['connection', 'tool'] },
  blank: (id) => ({ id, do: 'tool', connection: '', tool: '' }),
  sentence: (step, nameOf) => [say('Use '), pick(step.tool), say(' of '), pick(step.connection === '' ? '' : nameOf('connection', step.connection))],
  form: [
    { is: 'pick', at: 'connection', label: 'Connection', of: 'tool connection' },
    { is: 'tool', at: 'tool', label: 'Tool' },
    { is: 'columns', at: 'input', label: 'What it is given', of: 'free' },
    { is: 'places', at: 'take', label: 'Take from the answer', help: 'Name and place in the answer: id, or lines[0].price' },
  ],
  uses: (step) => Object.values(step.input ?? {}).map((used) => ({ value: used })),
  gives: (step) => Object.keys(step.take ?? {}).map((name) => ({ name, label: name })),
  complain: toolComplaints,
};
