#!/usr/bin/env bash
# Writes the OpenAPI document and the client's types anew from the resources.
set -euo pipefail
cd "$(dirname "$0")/.."
export PATH="$PWD/.venv/bin:$PATH"
uvren openapi frontend/src/api/openapi.json
cd frontend
npm run -s api
