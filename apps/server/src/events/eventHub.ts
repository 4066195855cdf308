import type { Request, Response } from 'express';
import type { ServerEvent } from '@zographos/contracts';

const HEARTBEAT_MS = 15_000;

/** Passes what happens on to every studio page that looks at the project, by server-sent events. */
export class EventHub {
  private readonly listeners = new Map<Response, string>();
  private readonly heartbeat = setInterval(() => {
    for (const response of this.listeners.keys()) response.write(': still here\n\n');
  }, HEARTBEAT_MS).unref();

  subscribe(projectId: string, request: Request, response: Response, first: ServerEvent[]): void {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      Connection: 'keep-alive',
    });
    for (const event of first) response.write(lineOf(event));
    this.listeners.set(response, projectId);
    request.on('close', () => this.listeners.delete(response));
  }

  publish(event: ServerEvent): void {
    const line = lineOf(event);
    for (const [response, projectId] of this.listeners) {
      if (!('projectId' in event) || event.projectId === projectId) response.write(line);
    }
  }

  /** Whether any page is looking. */
  get isHeard(): boolean {
    return this.listeners.size > 0;
  }

  close(): void {
    clearInterval(this.heartbeat);
    for (const response of this.listeners.keys()) response.end();
  }
}

const lineOf = (event: ServerEvent): string => `data: ${JSON.stringify(event)}\n\n`;
